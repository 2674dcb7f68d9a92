package plan

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"
)

func TestZZ(t *testing.T) {
	for _, name := range strings.Fields(os.Getenv("ZZ")) {
		begun := time.Now()
		var out []string
		for seed = 1; seed <= 10; seed++ {
			got := checked(t, readCase(t, name), Options{}).Score
			out = append(out, fmt.Sprintf("%d/%d/%d", got.Unplaced, got.Setup, got.Age))
		}
		fmt.Println(name, time.Since(begun)/10, out)
	}
}
