package plan

import (
	"fmt"
	"testing"
)

func TestYY(t *testing.T) {
	for seed = 1; seed <= 3; seed++ {
		got := checked(t, readCase(t, "full-week"), Options{Effort: 150000}).Score
		fmt.Println(got)
	}
	seed = 1
}
