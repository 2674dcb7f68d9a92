// Package order holds what an order is, the states that it goes through, and the estimate: all that follows from it.
package order

import "slices"

// State of an order.
type State string

const (
	Enquiry    State = "enquiry"
	Quoted     State = "quoted"
	Promised   State = "promised"
	Making     State = "in the making"
	Packed     State = "packed"
	HandedOver State = "handed over"
	Settled    State = "settled"
	Cancelled  State = "cancelled"
)

// next holds the sensible moves: on, back by one to undo, and out.
var next = map[State][]State{
	Enquiry:    {Quoted, Promised, Cancelled},
	Quoted:     {Promised, Enquiry, Cancelled},
	Promised:   {Making, Quoted, Cancelled},
	Making:     {Packed, Promised, Cancelled},
	Packed:     {HandedOver, Making, Cancelled},
	HandedOver: {Settled, Packed},
	Settled:    {HandedOver},
	Cancelled:  {Enquiry},
}

// States in the order in which an order goes through them.
func States() []State {
	return []State{Enquiry, Quoted, Promised, Making, Packed, HandedOver, Settled, Cancelled}
}

// Transitions that are sensible from a state.
func (s State) Transitions() []State { return slices.Clone(next[s]) }

// Back tells whether going from s to t undoes a step.
func (s State) Back(t State) bool {
	return s != Cancelled && t != Cancelled && slices.Index(States(), t) < slices.Index(States(), s)
}

// Onward is the move from a state that is most likely next; empty where it is the last. From an enquiry that is the
// promise: not everybody asks for a quote.
func (s State) Onward() State {
	switch s {
	case Enquiry, Quoted:
		return Promised
	case Cancelled, Settled:
		return ""
	}
	return next[s][0]
}

// CanTransition tells whether an order may go from s to t.
func (s State) CanTransition(t State) bool { return slices.Contains(next[s], t) }

// Planned tells whether the batches of an order in this state have days.
func (s State) Planned() bool {
	return s == Promised || s == Making || s == Packed || s == HandedOver || s == Settled
}

// Ahead tells whether an order in this state is still to be handed over.
func (s State) Ahead() bool { return s != HandedOver && s != Settled && s != Cancelled }
