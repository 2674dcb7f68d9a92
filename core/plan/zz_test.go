package plan

import (
	"fmt"
	"testing"
	"time"
)

func TestZZ(t *testing.T) {
	for _, name := range []string{"two-chocolates", "evening-rush", "full-week", "helper-on-hand"} {
		for _, e := range []int{1500, 5000, 20000} {
			begun := time.Now()
			got := checked(t, readCase(t, name), Options{Effort: e}).Score
			fmt.Println(name, e, got, time.Since(begun))
		}
	}
}
