package treat

// Allergens that must be named on food in the US (FALCPA and the FASTER Act).
func Allergens() []string {
	return []string{"milk", "egg", "fish", "shellfish", "tree nut", "wheat", "peanut", "soy", "sesame"}
}
