package label

import (
	"strings"

	"zestytin/core/reason"
)

// Letters of a tag: as large as there is room for, at most 14 mm to the em; small letters at least as high as those of
// a label. The word below the name is half as large.
const (
	largestTag = 14.0
	below      = 0.5
)

// Tag is a name in the middle of a label of so many mm, on one line or two, and a word below it, such as the table; as
// large as there is room for. The error, a reason, says that it does not fit, or what cannot be printed.
func Tag(name, beside string, width, height float64, face Face) (*Fitted, error) {
	if !(width > 2*edge+1) || !(height > 2*edge+1) {
		return nil, reason.Of("label.too-small", Millimetres(width), Millimetres(height))
	}
	for _, text := range []string{name, beside} {
		if r := face.Lacks(text); r != 0 {
			return nil, reason.Of("label.letter-that-no-font-has", reason.Name(string(r)), reason.Name(text))
		}
	}
	words := strings.Fields(name)
	best, lines := 0.0, []string{}
	for at := 1; at <= max(len(words), 1); at++ { // on one line, or parted before one of its words
		try := []string{strings.Join(words[:min(at, len(words))], " ")}
		if at < len(words) {
			try = append(try, strings.Join(words[at:], " "))
		}
		if em := tagSize(try, beside, width-2*edge, height-2*edge, face); em > best {
			best, lines = em, try
		}
	}
	if best*face.XHeight() < 1.2 {
		return nil, reason.Of("label.name-does-not-fit", reason.Name(name))
	}
	f := &Fitted{Width: width, Height: height, Letter: best * face.XHeight()}
	y := (height - tall(len(lines), beside, best)) / 2
	put := func(text string, em float64, bold bool) {
		y += em * leading
		w := face.Width(text, bold) * em
		f.Runs = append(f.Runs, Run{X: (width - w) / 2, Y: y - em*(leading-1)*1.5, Size: em, Width: w, Text: text,
			Bold: bold})
	}
	for _, l := range lines {
		put(l, best, true)
	}
	if beside != "" {
		put(beside, best*below, false)
		f.Letter *= below
	}
	return f, nil
}

// tall are so many lines with a word below them.
func tall(lines int, beside string, em float64) float64 {
	h := float64(lines) * em * leading
	if beside != "" {
		h += em * below * leading
	}
	return h
}

// tagSize is the largest em with which lines fit into a width and a height.
func tagSize(lines []string, beside string, width, height float64, face Face) float64 {
	em := min(largestTag, height/tall(len(lines), beside, 1))
	for _, l := range lines {
		if w := face.Width(l, true); w > 0 {
			em = min(em, width/w)
		}
	}
	if w := face.Width(beside, false); w > 0 {
		em = min(em, width/w/below)
	}
	return em
}
