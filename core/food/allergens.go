package food

import (
	"fmt"
	"slices"

	"zestytin/core/invalid"
	"zestytin/core/reason"
)

// Allergen that must be named on food, and by which law.
type Allergen struct {
	Name string `json:"name"`
	US   bool   `json:"us"`
	EU   bool   `json:"eu"`
}

// Allergens of both laws. Wheat is one of the US nine and, in the EU, one of the cereals containing gluten; "gluten"
// stands for the other cereals, such as barley malt.
func Allergens() []Allergen {
	return []Allergen{
		{"milk", true, true}, {"egg", true, true}, {"fish", true, true}, {"shellfish", true, true},
		{"tree nut", true, true}, {"wheat", true, false},
		{"peanut", true, true}, {"soy", true, true}, {"sesame", true, true},
		{"gluten", false, true}, {"celery", false, true}, {"mustard", false, true}, {"sulphites", true, true},
		{"lupin", false, true}, {"mollusc", false, true},
	}
}

// AllergenNames of both laws.
func AllergenNames() []string {
	var names []string
	for _, a := range Allergens() {
		names = append(names, a.Name)
	}
	return names
}

// ViolatesFreeFrom tells whether a food with the allergen breaks the wish to be free from another: wheat holds gluten.
func ViolatesFreeFrom(allergen, wish string) bool {
	return allergen == wish || wish == "gluten" && allergen == "wheat"
}

// CheckAllergens finds names that are not of an allergen. The error is an *invalid.Error with paths from the list.
func CheckAllergens(names []string) error {
	var f invalid.Faults
	known := AllergenNames()
	for i, a := range names {
		if !slices.Contains(known, a) {
			f.Add(fmt.Sprintf("[%d]", i), reason.Of("food.not-allergen-we-know-choose", reason.Name(a),
				reason.Name(join(known))))
		}
	}
	return f.Err()
}
