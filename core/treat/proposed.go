package treat

// Proposed is the steps that a family proposes; the seller changes the minutes (common practice; handbook 2.1, 2.2, 2.5).
func Proposed(f Family) []Work {
	switch f {
	case Bomb:
		return []Work{
			{ID: "shells", Name: "Coat the moulds and set", PerRound: 10, Wait: 10, Place: "fridge", Pot: RoleShell, Rounds: true, Ages: true},
			{ID: "fill", Name: "Fill one half, seal with the other, seam up", PerBatch: 5, PerPiece: 0.75, Wait: 10, Place: "counter", Fills: true},
			{ID: "lines", Name: "Lines over the seam", PerBatch: 3, PerPiece: 0.2, Wait: 5, Place: "counter", Pot: RoleDrizzle},
			{ID: "bag", Name: "Bag and tie", PerPiece: 0.35},
		}
	case Fruit:
		return []Work{
			{ID: "wash", Name: "Pick over, wash, dry completely", PerBatch: 10, PerPiece: 0.15, Wait: 20, Place: "counter"},
			{ID: "picks", Name: "Picks in, all of them before dipping", PerPiece: 0.1},
			{ID: "dip", Name: "Dip to the shoulder, shake, wipe the foot", PerPiece: 0.5, Wait: 30, Place: "counter", Pot: RoleCoat, Ages: true},
			{ID: "lines", Name: "Lines when set", PerBatch: 3, PerPiece: 0.15, Wait: 5, Place: "counter", Pot: RoleDrizzle},
			{ID: "box", Name: "Picks out, box in liners", PerPiece: 0.25},
		}
	default:
		return []Work{
			{ID: "toppings", Name: "Weigh the toppings, line the sheets", PerBatch: 6, PerRound: 1},
			{ID: "spread", Name: "Spread, top while wet", PerRound: 8, Wait: 40, Place: "fridge", Pot: RoleBase, Fills: true, Ages: true},
			{ID: "break", Name: "Break and bag by weight", PerBatch: 4, PerPiece: 0.9},
		}
	}
}
