package app

import (
	"slices"

	"zestytin/internal/platform/web"
)

// own operations of everybody who is signed in: their account, and where they work.
var own = []string{"get-account", "rename-person", "change-mail", "ask-for-verification", "change-password",
	"confirm-session", "end-session", "end-other-sessions", "outline-second-step", "begin-second-step",
	"end-second-step", "renew-recovery-codes", "outline-passkey", "add-passkey", "remove-passkey", "enter-kitchen",
	"open-another", "leave-kitchen", "delete-account"}

// making is what a maker does beside: the bench, the plan and the larder, what is packed, and, on its day, what is
// driven. None of it takes an amount of money, and none that is answered keeps one; addresses wait for their day.
var making = []string{"stream-events", "get-kitchen",
	"get-run-sheet", "print-run-sheet", "get-outlook", "get-helps", "tick-step", "put-result", "put-step-result",
	"add-losses", "add-step-note", "remove-step-note", "list-timers", "set-timer", "stop-timer",
	"list-pots", "begin-pot", "get-pot", "note-deed", "undo-deed", "resume-pot", "end-pot", "put-pot-instruments",
	"note-reading", "list-sensors", "practise", "list-faults", "add-fault", "ask-fault", "remove-fault", "when-more",
	"get-logbook", "get-kitchen-lessons", "list-lessons", "get-photo", "put-photo", "remove-photo",
	"get-plan", "list-plan-changes", "change-plan", "undo-plan-change", "start-plan-run", "get-plan-run",
	"take-plan-run", "stop-plan-run", "get-shelf", "get-work-days", "put-work-days", "get-capacity", "put-capacity",
	"find-slot", "sum-hours",
	"get-stock", "get-item", "list-ingredients", "get-ingredient", "list-supplies", "list-allergens", "count-item",
	"put-lot", "void-lot", "make-mix", "get-shopping-list", "tick-shopping",
	"list-treats", "get-treat", "list-mixes", "get-mix", "list-families", "print-batch-card",
	"get-pack-day", "tick-packing", "get-labels", "print-labels", "list-label-sheets", "print-calibration",
	"print-packing-slip", "get-drives", "put-drop", "delete-drop", "get-drive-search", "get-drive-sheet",
	"get-road-map",
	"altitude", "read-amount", "bowl", "convert", "cooling", "extras", "ganache", "seed", "sheet", "shell",
	"read-recipe"}

// bookkeeping is what a bookkeeper does beside: reads the till.
var bookkeeping = []string{"stream-events", "get-till", "export-till-csv", "export-till-xlsx", "export-orders",
	"list-payments", "list-invoices", "print-invoice", "get-treat-sales"}

// may says whether an operation is for a role: what no list has is for owners alone, and what whoever works in no
// kitchen may do is their own.
func may(role web.Role, operation string) bool {
	switch role {
	case web.Owner:
		return true
	case web.Maker:
		return slices.Contains(own, operation) || slices.Contains(making, operation)
	case web.Bookkeeper:
		return slices.Contains(own, operation) || slices.Contains(bookkeeping, operation)
	}
	return slices.Contains(own, operation)
}
