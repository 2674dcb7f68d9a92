package food

import "slices"

// Wishes that follow from the diets that an ingredient suits.
const (
	Vegetarian    Diet = "vegetarian"
	HalalFriendly Diet = "halal-friendly"
)

// Wishes that an order can have.
func Wishes() []Diet {
	return []Diet{Vegan, Vegetarian, NoAlcohol, NoGelatine, HalalFriendly, LowSugar}
}

// Suits tells whether an ingredient suits a wish, as far as it is known what is in it: vegetarian is what is vegan, or
// has no gelatine and nothing of fish or shellfish; halal-friendly is what has neither alcohol nor gelatine. That says
// what the ingredients tell and no more: rennet, additives and how something was made are not known here.
func (i *Ingredient) Suits(wish Diet) bool {
	has := func(d Diet) bool { return slices.Contains(i.Diets, d) }
	switch wish {
	case Vegetarian:
		return has(Vegan) || has(NoGelatine) && !slices.ContainsFunc(i.Allergens, ofFish)
	case HalalFriendly:
		return has(NoAlcohol) && has(NoGelatine)
	}
	return has(wish)
}

func ofFish(allergen string) bool {
	return slices.Contains([]string{"fish", "shellfish", "mollusc"}, allergen)
}

// Touched tells whether traces of an allergen are in the way of a wish: for a vegan those of what comes of animals, for a
// vegetarian those of what they do not eat. Nobody notes what has touched alcohol or gelatine.
func (wish Diet) Touched(allergen string) bool {
	switch wish {
	case Vegan:
		return ofFish(allergen) || allergen == "milk" || allergen == "egg"
	case Vegetarian:
		return ofFish(allergen)
	}
	return false
}
