package ask

import (
	"fmt"
	"html/template"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/treat"
)

// colours of chocolate, as it is drawn everywhere.
func colourOf(c food.Chocolate) (fill, ink string) {
	switch {
	case c.Tint != "":
		return c.Tint, "#2b1a12"
	case c.Colour == chocolate.Milk:
		return "#8a5733", "#fff6e8"
	case c.Colour == chocolate.White:
		return "#f3e2bf", "#6b574c"
	default:
		return "#452818", "#f6e7d2"
	}
}

// shapes of a piece of each family, on a grid of 24.
var shapes = map[treat.Family]string{
	"bomb":    `<circle cx="12" cy="12" r="9"/><path d="M3.2 12.6c3 1.6 5.8-1 8.8 0s5.8 1.4 8.8 0" class="l"/>`,
	"fruit":   `<path d="M12 21.5c-5-3.3-7.8-7.2-7.8-10.6 0-2.6 1.9-4 4-4 1.4 0 2.8.6 3.8 1.6 1-1 2.4-1.6 3.8-1.6 2.1 0 4 1.4 4 4 0 3.4-2.8 7.3-7.8 10.6z"/><path d="M12 8V3M8.4 3.6 12 7l3.6-3.4" class="l" stroke="#2f6b4f"/>`,
	"pretzel": `<path d="M17 2.6a2.7 2.7 0 0 1 4.4 4.4L7 21.4A2.7 2.7 0 0 1 2.6 17z"/>`,
	"truffle": `<path d="M12 3.4c5.2 0 8.6 4 8.6 9.2S17 21 12 21s-8.6-3.2-8.6-8.4S6.800 3.4 12 3.400z"/>`,
	"bark":    `<path d="M3.600 8.500 9 3.400l6.200 1.800 5.400 3.800-1.200 7.400-5.800 4.800-6.800-1-3.600-5.200z"/><path d="M9 9.600h.01M14.200 10.400h.01M11.400 14.600h.01" class="l d"/>`,
	"fudge":   `<path d="M3 9l9-4.600L21 9v7.400L12 21l-9-4.600z"/><path d="M3 9l9 4.600L21 9M12 13.600V21" class="l"/>`,
	"cluster": `<path d="M3 19.400c-.8-3 1-4.800 3-5-1-3.400 1.800-5.600 4.200-5 .4-3 4-4.200 6-2.200 1.800 1.600 1.600 3.800.4 5.200 3-.2 5.200 2.600 4.600 7z"/><path d="M9 16l2-1.400M14 12l1.200-2" class="l"/>`,
	"moulded": `<path d="M7 5.600h10l4 13.600H3z"/><path d="M9 10h6l1.700 5.200H7.300z" class="l"/>`,
}

// drawing of a treat: three of its pieces on a plate, in its chocolate.
func drawing(f treat.Family, c food.Chocolate) template.HTML {
	fill, ink := colourOf(c)
	shape, known := shapes[f]
	if !known {
		shape = `<circle cx="12" cy="12" r="8"/>`
	}
	// The parts are our own: a tint is a colour in figures, checked where it is typed.
	var b strings.Builder
	b.WriteString(`<svg class="t" viewBox="0 0 120 60" aria-hidden="true">` +
		`<ellipse cx="60" cy="46" rx="54" ry="11" class="p"/>`)
	for i, at := range [][3]float64{{22, 18, 1.25}, {74, 18, 1.25}, {47, 12, 1.5}} {
		fmt.Fprintf(&b, `<g transform="translate(%g %g) scale(%g)" fill="%s" stroke="%s" class="g%d">%s</g>`,
			at[0]-6, at[1]-4, at[2], template.HTMLEscapeString(fill), ink, i, shape)
	}
	b.WriteString(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // as above
}
