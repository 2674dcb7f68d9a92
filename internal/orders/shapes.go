package orders

import (
	"reflect"

	"zestytin/core/box"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/internal/platform/web"
)

// Shapes says what the fields of core's types mean in the API.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[order.PromisedLine](): {
			"line": {Doc: "Index of the order's line"},
			"name": {Doc: "Of the treat"},
		},
		reflect.TypeFor[order.Shortfall](): {
			"good":    {Doc: "Good pieces that there are for the line, or will be when the rest of the work goes well"},
			"missing": {Doc: "Of those that were promised"},
		},
		reflect.TypeFor[order.Batch](): {
			"line":  {Doc: "Index of the line"},
			"part":  {Doc: "Where the line is made in parts: which, from 1"},
			"day":   {Doc: "The first of its days", Format: "date"},
			"count": {Doc: "How many of the line are made in it: all, unless it is made in parts"},
			"hands": {Doc: "Minutes of hands in all, melting and washing down included; of a batch that is made for others too, for all of them"},
			"lot":   {Doc: "The promised batch that it is made together with", Format: "uuid"},
			"all":   {Doc: "Of a batch that is made for others too: how many are made in it"},
			"with":  {Doc: "The customers for whom it is made as well"},
			"pot":   {Doc: "Name of its main chocolate; empty when none is melted"},
		},
		reflect.TypeFor[order.Beside](): {
			"hands": {Doc: "Minutes more than without it"},
		},
		reflect.TypeFor[order.BoxSet](): {
			"supply": {Doc: "The box", Format: "uuid"},
			"pieces": {Doc: "Of each line that go into one, by the lines of the order"},
		},
		reflect.TypeFor[order.SetLaid](): {
			"set":     {Doc: "Index of the set"},
			"supply":  {Format: "uuid"},
			"lines":   {Doc: "Of which there are pieces in it, as the items of the layout are numbered"},
			"pieces":  {Doc: "Of each of these lines in one box"},
			"sides":   {Doc: "Of the room: length, width and height"},
			"layout":  {Doc: "Not given where they do not lie in it, or there are too many kinds to say"},
			"trouble": {Doc: "They do not lie in it, or should not"},
			"others":  {Doc: "Boxes in which they lie, cheapest first"},
		},
		reflect.TypeFor[order.BoxCount](): {
			"supply": {Doc: "The box", Format: "uuid"},
		},
		reflect.TypeFor[order.Boxed](): {
			"line":    {Doc: "Index of the line"},
			"supply":  {Format: "uuid"},
			"each":    {Doc: "Pieces that are to go into one"},
			"takes":   {Doc: "Pieces that lie in one, in rows"},
			"sides":   {Doc: "Of the room: length, width and height"},
			"layout":  {Doc: "Of a full one; not given where not one piece lies in it"},
			"spare":   {Doc: "Height that is left above the pieces"},
			"trouble": {Doc: "The line does not lie in its boxes"},
			"smaller": {Doc: "How large pieces could be so that as many lie in it"},
			"instead": {Doc: "Boxes that would hold the line, or cost less, cheapest first"},
		},
		reflect.TypeFor[order.BoxChoice](): {
			"short": {Doc: "There are not as many in the larder, or not enough of what goes with them"},
		},
		reflect.TypeFor[box.Room](): {
			"length": {Doc: "mm, inside"}, "width": {Doc: "mm"}, "height": {Doc: "mm"},
			"rise":   {Doc: "mm that pieces may stand higher than the sides, under a raised lid"},
			"open":   {Doc: "There is no lid: a single layer may be of any height"},
			"layers": {Doc: "That may lie on each other; not given: one"},
			"holds":  {Doc: "g at most"},
		},
		reflect.TypeFor[box.Item](): {
			"length": {Doc: "mm, in its liner"}, "width": {Doc: "mm"}, "height": {Doc: "mm"},
			"lies": {Doc: "It may be laid on a side"},
			"bare": {Doc: "Nothing may be laid on it"},
			"mass": {Doc: "g"},
		},
		reflect.TypeFor[box.Layout](): {
			"across": {Doc: "The rows run along the width of the box"},
			"layers": {Doc: "From the bottom up"},
		},
		reflect.TypeFor[box.Layer](): {
			"high": {Doc: "mm"}, "deep": {Doc: "mm that its rows take"},
		},
		reflect.TypeFor[box.Row](): {
			"deep": {Doc: "mm"},
		},
		reflect.TypeFor[box.Placed](): {
			"item":  {Doc: "Which of the kinds, from 0"},
			"along": {Doc: "mm along the row"}, "deep": {Doc: "mm across it"}, "high": {Doc: "mm"},
		},
		reflect.TypeFor[order.Caution](): {
			"trouble": {Doc: "It breaks a wish of the order; otherwise a thing to keep in mind"},
		},
		reflect.TypeFor[order.Day](): {
			"day":   {Format: "date"},
			"hands": {Doc: "Minutes of hands on that day, melting and washing down included"},
			"free":  {Doc: "Minutes of hands that stay free on that day"},
		},
		reflect.TypeFor[order.Draft](): {
			"wishes":   {Doc: "What all of it is to suit: vegan, vegetarian, no alcohol, no gelatine, halal-friendly, low sugar"},
			"way":      {Enum: web.OneOf(order.Ways())},
			"place":    {Doc: "Where it is handed over"},
			"from":     {Doc: "Begin of the handover's window"},
			"to":       {Doc: "End of the handover's window"},
			"freeFrom": {Doc: "Allergens that it must be free from"},
			"pricing":  {Doc: "What the price starts from; without it the kitchen's target margin"},
			"discount": {Doc: "As it is typed: 10% or 5.00", MaxLength: 20},
			"distance": {Doc: "Kilometres to drive for it, there and back"},
			"cash":     {Doc: "It is paid without a card"},
		},
		reflect.TypeFor[order.Swap](): {
			"line":  {Doc: "Index of the line"},
			"pairs": {Doc: "What is swapped, all at once"},
			"cost":  {Doc: "That the ingredients cost more; below 0: less; not given where nobody knows what one of them costs"},
			"keeps": {Doc: "Hours that it then keeps"},
		},
		reflect.TypeFor[order.SwapPair](): {
			"out": {Doc: "Id of the ingredient that is in the way"},
			"in":  {Doc: "Id of what takes its place; of a common ingredient that is not in the larder “common” and its name"},
		},
		reflect.TypeFor[order.Line](): {
			"treat":    {Doc: "Id of the treat"},
			"count":    {Doc: "Pieces; bags of bark"},
			"coating":  {Doc: "Made in compound coating of the same colours instead of couverture"},
			"note":     {Doc: "What this customer wants of it: it goes to the bench and onto the paper"},
			"freeFrom": {Doc: "Allergens that it must be free from, beside those of the order"},
			"wishes":   {Doc: "What it is to suit, beside what the order is to"},
		},
		reflect.TypeFor[order.LineCard](): {
			"coating": {Doc: "It is made in coating instead of couverture"},
			"start":   {Doc: "How many are begun, in all its parts"},
			"cost":    {Doc: "Its share of the order's cost; the shares of all lines add up to it"},
			"price":   {Doc: "Its share of the price asked"},
			"traces":  {Doc: "Allergens that are not in it, but in a bowl that it is worked from: it may contain traces of them"},
			"market":  {Doc: "Where its price stands in the seller's own market"},
		},
		reflect.TypeFor[order.ListPrice](): {
			"price": {Doc: "Decimal, before tax"},
			"count": {Doc: "Of how many pieces, or bags of bark"},
		},
		reflect.TypeFor[order.Market](): {
			"low": {Doc: "Decimal, for a dozen"},
		},
		reflect.TypeFor[order.Missing](): {
			"reason": {Doc: "What is short; window: not possible even in an empty kitchen",
				Enum: web.OneOf(plan.Reasons())},
			"of":      {Doc: "Id of the place or the tool that is full"},
			"day":     {Doc: "The day that comes closest", Format: "date"},
			"minutes": {Doc: "By how much"},
			"need":    {Doc: "Minutes of hands that it needs"},
			"free":    {Doc: "Minutes of hands that are free in the span"},
		},
		reflect.TypeFor[order.Pot](): {
			"day":       {Doc: "On which it is melted, where that is planned", Format: "date"},
			"melted":    {Doc: "For all that is worked from it"},
			"topUp":     {Doc: "Melted more later, when what ran back and was trimmed has been used"},
			"used":      {Doc: "Of it, by this order"},
			"reclaimed": {Doc: "Is left in the bowl"},
			"shared":    {Doc: "Other orders work from it too"},
		},
		reflect.TypeFor[order.Pricing](): {
			"by":    {Enum: web.OneOf(price.Bases())},
			"value": {Doc: "Decimal: a share such as 0.2 for margin and markup, money for hourly and price"},
		},
		reflect.TypeFor[order.Quote](): {
			"way":       {Enum: web.OneOf(order.Ways())},
			"zone":      {Doc: "IANA time zone of the kitchen"},
			"price":     {Doc: "As it is asked"},
			"taxIn":     {Doc: "The tax is in the price; otherwise it comes on top"},
			"gross":     {Doc: "To pay in all"},
			"deposit":   {Doc: "Of it in advance"},
			"allergens": {Doc: "What it contains"},
			"freeFrom":  {Doc: "What was asked to be left out"},
		},
		reflect.TypeFor[order.QuoteLine](): {
			"sold": {Doc: "pieces or bags"},
		},
		reflect.TypeFor[order.Estimate](): {
			"hands": {Doc: "Minutes of hands"},
			"wait":  {Doc: "Minutes of waiting"},
		},
		reflect.TypeFor[order.Suggestion](): {
			"kind":   {Enum: web.OneOf(order.ReliefKinds())},
			"text":   {Doc: "The change in one sentence"},
			"day":    {Doc: "Of hours, person and day: the day that changes", Format: "date"},
			"from":   {Doc: "Begin of the work that changes or is added, HH:MM"},
			"to":     {Doc: "Its new end"},
			"hands":  {Doc: "People who work then"},
			"trays":  {Doc: "That the place would have"},
			"count":  {Doc: "Of mould: that there would be; of fewer: pieces"},
			"line":   {Doc: "Of fewer and coating: the line that changes"},
			"starts": {Doc: "Of later: begin of the handover's window"},
		},
		reflect.TypeFor[order.Rung](): {
			"hands": {Doc: "Minutes"},
			"each":  {Doc: "Cost of one"},
			"dozen": {Doc: "Price of a dozen at this count"},
		},
		reflect.TypeFor[order.Stand](): {
			"dozen": {Doc: "What a dozen of it is sold for here"},
		},
		reflect.TypeFor[order.Sum](): {
			"card":     {Doc: "The fee of a card payment"},
			"base":     {Doc: "The price before discount, surcharge and rounding"},
			"rounded":  {Doc: "What rounding, or the minimum, adds"},
			"atMargin": {Doc: "The price at the kitchen's target margin"},
			"asked":    {Doc: "The price as the seller says it"},
			"net":      {Doc: "What stays with the seller of it"},
			"gross":    {Doc: "What the customer pays"},
			"left":     {Doc: "Net less the total cost; negative when it costs more than it brings"},
			"margin":   {Doc: "Left as a share of the net price"},
			"markup":   {Doc: "Left as a share of the cost"},
			"perHour":  {Doc: "What it pays for an hour of hands after everything else"},
			"planned":  {Doc: "What it comes to on the days that were found, beside the other promised orders: with their pots, and in one go with what they have of the same"},
		},
		reflect.TypeFor[order.ShareOwner](): {
			"order":  {Format: "uuid"},
			"number": {Doc: "Of the order"},
			"count":  {Doc: "Pieces of the batch that it takes; bags of bark"},
		},
		reflect.TypeFor[order.WhatIf](): {
			"chocolate": {Doc: "Chocolate is dearer by this share", Min: new(-0.9), Max: new(5.0)},
			"loss": {Doc: "Pieces are lost more often by this share; -0.5: half as often", Min: new(-1.0),
				Max: new(1.0)},
			"moulds": {Doc: "More moulds of each kind", Min: new(0.0), Max: new(20.0)},
			"hourly": {Doc: "An hour of hands is worth this; empty: what it is worth now"},
		},
		reflect.TypeFor[order.When](): {
			"text":    {Doc: "One sentence"},
			"pending": {Doc: "It was not looked for: the figures alone were asked for"},
			"moves":   {Doc: "Steps of other orders that would be done at another time"},
		},
	}
}
