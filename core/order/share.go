package order

import (
	"slices"
	"time"

	"zestytin/core/ident"
	"zestytin/core/reason"
)

// ShareOwner is an order that takes pieces of a batch.
type ShareOwner struct {
	Order    ident.Order `json:"order"`
	Number   int         `json:"number"`
	Customer string      `json:"customer"`
	Count    int         `json:"count"`
	Note     string      `json:"note,omitempty"`
}

// Share of an order in a batch: mostly the whole of it. A batch that several orders share is a lot.
type Share struct {
	ShareOwner
	State    State       `json:"state"`
	Ready    time.Time   `json:"ready"` // begin of its handover's window
	FreeFrom []string    `json:"freeFrom"`
	Line     int         `json:"line"` // index of the order's line
	Part     int         `json:"part"` // of that line, from 1; 0: the whole of it
	Treat    ident.Treat `json:"treat"`
	Version  int         `json:"version"`
	Coating  bool        `json:"coating"`
	Again    bool        `json:"again,omitempty"` // made beside what was promised, where too few good pieces were left
}

// Shares of a batch, next handover first.
type Shares []Share

// Live are those of orders that are still to be had; all where none is.
func (s Shares) Live() Shares {
	live := slices.DeleteFunc(slices.Clone(s), func(x Share) bool { return x.State == Cancelled })
	if len(live) == 0 {
		return s
	}
	return live
}

// Count of pieces in all.
func (s Shares) Count() int {
	n := 0
	for _, x := range s {
		n += x.Count
	}
	return n
}

// FreeFrom is what any of them must be free from.
func (s Shares) FreeFrom() []string {
	list := []string{}
	for _, x := range s.Live() {
		for _, wish := range x.FreeFrom {
			if !slices.Contains(list, wish) {
				list = append(list, wish)
			}
		}
	}
	return list
}

// Owners of them.
func (s Shares) Owners() []ShareOwner {
	list := []ShareOwner{}
	for _, x := range s.Live() {
		list = append(list, x.ShareOwner)
	}
	return list
}

// Last is when the last of them is handed over.
func (s Shares) Last() time.Time {
	var last time.Time
	for _, x := range s {
		if x.Ready.After(last) {
			last = x.Ready
		}
	}
	return last
}

// Orders that take part, each once.
func (s Shares) Orders() []ident.Order {
	var list []ident.Order
	for _, x := range s {
		if !slices.Contains(list, x.Order) {
			list = append(list, x.Order)
		}
	}
	return list
}

// Customers are their names, each once.
func (s Shares) Customers() []string {
	list := []string{}
	for _, x := range s.Live() {
		if !slices.Contains(list, x.Customer) {
			list = append(list, x.Customer)
		}
	}
	return list
}

// CustomerNames it is for: Anouk Lindqvist and Wren family.
func (s Shares) CustomerNames() reason.List { return reason.Names(s.Customers()) }

// OwnerNames a batch is for, with how many pieces each takes where there are several: Wren family (36) and Anouk
// Lindqvist (12).
func OwnerNames(takers []ShareOwner) reason.List {
	if len(takers) == 1 {
		return reason.List{reason.Name(takers[0].Customer)}
	}
	list := make(reason.List, len(takers))
	for i, t := range takers {
		list[i] = reason.Of("order.taker-with-count", reason.Name(t.Customer), reason.Int(t.Count))
	}
	return list
}

// Without an order.
func (s Shares) Without(order ident.Order) Shares {
	return slices.DeleteFunc(slices.Clone(s), func(x Share) bool { return x.Order == order })
}
