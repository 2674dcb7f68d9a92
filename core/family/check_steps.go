package family

import (
	"fmt"
	"slices"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// steps finds the faults of the steps: each on its own, and what they say of each other.
func (c *Checking) steps() {
	f := c.F
	if len(f.Steps) == 0 || len(f.Steps) > 50 {
		c.Add("steps", reason.Of("family.treat-made-in-at-least"))
	}
	at := map[ident.Step]int{}
	for i, s := range f.Steps {
		at[s.ID] = i
	}
	ids, hands, parts := map[ident.Step]bool{}, 0.0, map[treat.Role]float64{}
	for i, s := range f.Steps {
		path := fmt.Sprintf("steps[%d]", i)
		if s.ID == "" || len(s.ID) > 40 || ids[s.ID] {
			c.Add(path+".id", reason.Of("family.every-step-has-short-name"))
		}
		ids[s.ID] = true
		if s.Name == "" || len(s.Name) > 200 {
			c.Add(path+".name", reason.Of("family.say-what-done-in-at"))
		}
		for name, minutes := range map[string]float64{"perBatch": s.PerBatch, "perRound": s.PerRound,
			"perPiece": s.PerPiece} {
			if !(minutes >= 0 && minutes <= 1440) {
				c.Add(path+"."+name, reason.Of("family.minutes-between-and"))
			}
			hands += minutes
		}
		if _, there := c.K.Spot(s.Spot); s.Spot != "" && !there {
			c.Add(path+".place", reason.Of("family.no-such-spot", reason.Name(s.Spot)))
		}
		if s.Wait < 0 || s.Wait > 7*1440 {
			c.Add(path+".wait", reason.Of("family.waiting-between-minutes-and-week"))
		}
		if s.PerTray < 0 || s.PerTray > 10000 {
			c.Add(path+".perTray", reason.Of("family.tray-holds-between-and-pieces"))
		}
		if s.Pot != "" && !f.Has(s.Pot) {
			c.Add(path+".pot", reason.Of("family.step-works-with-chocolate-which", reason.Name(s.Pot)))
		}
		for _, r := range s.Ready {
			if !f.Has(r) {
				c.Add(path+".ready", reason.Of("family.chocolate-to-be-ready-which", reason.Name(r)))
			}
		}
		if s.Part != 0 && !(s.Part > 0 && s.Part <= 1) {
			c.Add(path+".part", reason.Of("family.step-puts-on-more-than"))
		}
		parts[s.Pot] += s.Part
		if !(s.Loss >= 0 && s.Loss <= 0.9) {
			c.Add(path+".loss", reason.Of("family.what-lost-at-step-between"))
		} else if s.Loss > 0 && i == len(f.Steps)-1 {
			c.Add(path+".loss", reason.Of("family.what-lost-at-last-step"))
		}
		if s.Alone && i == 0 {
			c.Add(path+".alone", reason.Of("family.there-no-step-before-first"))
		}
		if s.Earliest < 0 || s.Earliest > 7*1440 {
			c.Add(path+".earliest", reason.Of("family.gap-before-step-between-minutes"))
		}
		if s.Latest != nil && *s.Latest < s.Earliest {
			c.Add(path+".latest", reason.Of("family.gap-ends-before-begins-at", reason.Int(*s.Latest),
				reason.Int(s.Earliest)))
		}
		if s.Until != "" {
			end, ok := at[s.Until]
			if !ok || end < i {
				c.Add(path+".until", reason.Of("family.moulds-held-until-step-that"))
			}
		}
		c.beside(path, i, at)
		c.prepared(path, s.Prepare)
		c.told(path+".note", s.Note)
		c.told(path+".look", s.Look)
		for n, a := range s.Adds {
			if a != treat.AddsCentre && a != treat.AddsIn && a != treat.AddsOn {
				c.Add(fmt.Sprintf("%s.adds[%d]", path, n), reason.Of("family.what-goes-in-at-step"))
			}
		}
	}
	for role, part := range parts {
		if role != "" && part > 1+1e-9 {
			c.Add("steps", reason.Of("family.steps-put-on-more-chocolate", reason.Name(role), reason.Share(part)))
		}
	}
	if len(f.Steps) > 0 && hands == 0 {
		c.Add("steps", reason.Of("family.all-steps-take-no-time"))
	}
}

// beside checks a step that is done beside others: before a later one that is not itself beside another, on its own,
// and losing none of the pieces, which it does not have in hand.
func (c *Checking) beside(path string, i int, at map[ident.Step]int) {
	s := c.F.Steps[i]
	if s.Beside == "" {
		return
	}
	if end, ok := at[s.Beside]; !ok || end <= i || c.F.Steps[end].Beside != "" {
		c.Add(path+".beside", reason.Of("family.beside-is-before-a-later-step"))
	}
	if s.Rounds || s.Moulds || s.Loss > 0 || s.Alone || s.Trims {
		c.Add(path+".beside", reason.Of("family.beside-has-no-pieces"))
	}
}

// prepared is what goes into the treat, and by mass where it has a bath.
func (c *Checking) prepared(path string, list []treat.Preparation) {
	if len(list) > 20 {
		c.Add(path+".prepare", reason.Of("family.step-prepares-at-most"))
	}
	for n, p := range list {
		path := fmt.Sprintf("%s.prepare[%d]", path, n)
		if !slices.Contains(treat.Hows(), p.How) {
			c.Add(path+".how", reason.Of("family.prepared-one-of", oneOf(treat.Hows())))
		}
		if _, ok := Prepared(c.F, c.K, p); !ok {
			c.Add(path+".of", reason.Of("family.prepared-goes-in"))
		}
		if len(p.Bath) == 0 {
			continue
		}
		if p.How != treat.Wash {
			c.Add(path+".bath", reason.Of("family.bath-is-to-wash"))
		}
		if p.Covers == nil {
			c.Add(path+".covers", reason.Of("family.bath-covers-so-much"))
		} else {
			c.Under(path+".covers", p.Covers.Check(measure.Mass))
		}
		for b, part := range p.Bath {
			path := fmt.Sprintf("%s.bath[%d]", path, b)
			known, ok := c.K.Item(part.Of)
			if !ok {
				c.Add(path+".of", reason.Of("family.this-not-in-larder-nor"))
			} else if _, err := known.Base(part.Amount); err != nil {
				c.Because(path+".amount", "family.of-it", reason.Name(known.Name), reason.Because(err))
			}
		}
	}
}

// Prepared is the ingredient that a preparation is of, or the mix that is warmed; false where it does not go into the
// treat.
func Prepared(f *treat.Formula, k *treat.Inputs, p treat.Preparation) (ident.Ingredient, bool) {
	of := p.Of
	if of == "" {
		if f.Centre == nil {
			return "", false
		}
		of = f.Centre.Of
	}
	goes := false
	for _, id := range f.Goes() {
		goes = goes || id == of || slices.Contains(k.Uses(id), of)
	}
	known, ok := k.Item(of)
	return of, goes && ok && (known.Mix == nil || p.How == treat.Warm)
}
