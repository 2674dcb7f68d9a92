// Package ident has the names by which things know each other: a type for each kind of thing, so that the id of a treat
// is never taken for that of an ingredient. They are texts that only their maker reads: ids of the store, words of a
// formula, keys of a plan.
package ident

type (
	// Ingredient is of what goes into a treat: an ingredient, or a mix, which goes in like one.
	Ingredient string
	// Supply is of packaging.
	Supply string
	// Item is of what the larder holds: an ingredient or packaging.
	Item string
	// Lot is of what came into the house at once, with a date and a price of its own.
	Lot string
	// Treat is of a treat, in all its versions.
	Treat string
	// Order is of an order.
	Order string
	// Spot is of a place where things are stored: fridge, freezer, counter, and what the seller adds.
	Spot string
	// Mould is of a kind of mould, or another tool of which there are only so many.
	Mould string
	// Batch is of what is made in one go, in a plan.
	Batch string
	// Step is of a step: of a treat's formula, and of each batch that is made by it.
	Step string
	// Pot is of a pot of chocolate: two steps with the same may share a bowl.
	Pot string
)

// StepOf is a step of one batch in a plan.
type StepOf struct {
	Batch Batch
	Step  Step
}
