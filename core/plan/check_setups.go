package plan

import (
	"slices"

	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// setups: rules 6 and 7.
func (c *proof) setups() {
	for i, w := range c.all {
		if w.session < 0 {
			continue
		}
		if need := c.changeover(i); w.Changeover != need {
			c.breaks(6, w.name, reason.Of("plan.has-minutes-changeover-and-needs", reason.Int(w.Changeover),
				reason.Int(need)))
		}
		if need := c.washdown(w); w.Washdown != need {
			c.breaks(7, w.name, reason.Of("plan.has-minutes-washdown-and-needs", reason.Int(w.Washdown),
				reason.Int(need)))
		}
		for _, v := range c.all {
			if v.session != w.session || v.pinned && w.pinned || !allergensConflict(w.of, v.of) {
				continue
			}
			switch {
			case v.Start == w.Start:
				c.breaks(7, w.name, reason.Of("plan.starts-together-with-which-must", reason.Name(v.Step),
					reason.Name(v.Batch)))
			case overlap(w.Start, w.done(), v.Start, v.done()):
				c.breaks(7, w.name, reason.Of("plan.overlaps-which-must-be-free", reason.Name(v.Step),
					reason.Name(v.Batch)))
			case w.Washdown > 0 && overlap(w.From(), w.From()+w.Washdown, v.Start, v.done()):
				c.breaks(7, w.name, reason.Of("plan.its-washdown-overlaps", reason.Name(v.Step), reason.Name(v.Batch)))
			}
		}
	}
}

// changeover that the i-th step needs: of the pots that are not ready, or from version 2 on of all where it is washed
// down for.
func (c *proof) changeover(i int) si.Minutes {
	w := c.all[i]
	var last *work // the person's latest earlier step with a pot
	for _, v := range slices.Backward(c.all[:i]) {
		if v.session == w.session && v.Hand == w.Hand && len(c.problem.uses(v.step)) > 0 {
			last = v
			break
		}
	}
	var sum si.Minutes
	var melts []ident.Pot
	for _, u := range c.problem.uses(w.step) {
		ready := last != nil && w.Start <= last.done()+u.Holds &&
			slices.ContainsFunc(c.problem.uses(last.step), func(x Use) bool { return x.Pot == u.Pot })
		if !ready || !c.problem.first() && c.washdown(w) > 0 {
			sum += u.Changeover
			melts = append(melts, u.Pot)
		}
	}
	if !c.problem.first() && !slices.Equal(melts, w.Melts) {
		c.breaks(6, w.name, reason.Of("plan.melts-and-must-melt", reason.Names(w.Melts), reason.Names(melts)))
	}
	return sum
}

// washdown that a step needs: something that it must be free from started earlier, and no washdown of another step
// stands between.
func (c *proof) washdown(w *work) si.Minutes {
	for _, v := range c.all {
		if v.session != w.session || v.Start >= w.Start || !allergensConflict(w.of, v.of) {
			continue
		}
		if !slices.ContainsFunc(c.all, func(x *work) bool {
			return x != w && x.session == w.session && x.Washdown > 0 && x.From() >= v.done() &&
				x.From()+x.Washdown <= w.Start
		}) {
			return c.problem.Washdown
		}
	}
	return 0
}

// allergensConflict tells whether the other batch contains something that this one must be free from.
func allergensConflict(this, other *Batch) bool {
	return this != other && slices.ContainsFunc(this.FreeFrom,
		func(x string) bool { return slices.Contains(other.Contains, x) })
}
