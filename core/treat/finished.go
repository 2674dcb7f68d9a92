package treat

import (
	"zestytin/core/measure"
	"zestytin/core/si"
)

// Piece is what a finished piece takes up in a box. What is not measured follows from the sizes of its making, where
// its family has some. It stands on its foot, its Height up; what Lies may also be laid on a side, and on what is Bare
// nothing may be laid.
type Piece struct {
	Length *measure.Quantity `json:"length,omitempty"`
	Width  *measure.Quantity `json:"width,omitempty"`
	Height *measure.Quantity `json:"height,omitempty"`
	Lies   bool              `json:"lies,omitempty"`
	Bare   bool              `json:"bare,omitempty"`
	Apart  bool              `json:"apart,omitempty"` // it smells or stains: nothing else lies in its box
}

// Kept is how finished pieces are kept, where the seller says so: what is not said follows from what is in them. Frozen
// they keep so many weeks, and take so many minutes to thaw.
type Kept struct {
	Where  Storage    `json:"where,omitempty"`
	Frozen int        `json:"frozen,omitempty"`
	Thaw   si.Minutes `json:"thaw,omitempty"`
}

// Storage of finished pieces.
type Storage string

const (
	InTin    Storage = "tin"    // in a closed tin, at room temperature
	CoolDry  Storage = "cool"   // cool and dry
	InFridge Storage = "fridge" // at 5 C or below
)

// Storages that there are.
func Storages() []Storage { return []Storage{InTin, CoolDry, InFridge} }
