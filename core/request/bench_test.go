package request

import (
	"strings"
	"testing"
)

// BenchmarkParse reads what people write, and the longest nonsense that is read at all.
func BenchmarkParse(b *testing.B) {
	for name, text := range map[string]string{"order": "24 strawberries, 12 bombs Sat 2pm for Ada",
		"numbers": strings.Repeat("1 a ", Longest/4), "words": strings.Repeat("berry ", Longest/6),
		"free": strings.Repeat("no nut ", Longest/7), "digits": strings.Repeat("1", Longest)} {
		b.Run(name, func(b *testing.B) {
			k := kitchen("mdy")
			for b.Loop() {
				Parse(text, k)
			}
		})
	}
}
