package text

import (
	"bytes"
	"errors"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/fault"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// made are the codes whose sentence is chosen as the program runs, by their beginnings; with the most values that they
// have.
var made = map[string]int{"choice.": 0, "tile.": 0, "message.subject-": 0, "message.body-": 0,
	"request.": 3, "step.": 0, "fact.": 3, "chocolate.choose-": 0,
	"measure.":       4,
	"order.cost-of-": 1, "order.tax-": 1, "batch.melt": 4, "batch.all-full": 0, "chocolate.bursts-": 1,
	"chocolate.short-": 1, "order.less-": 1, "scratch.missing-": 1, "order.plus-": 1, "order.rounded-up-by": 1, "fault.": 4}

func madeUp(code string) (int, bool) {
	for begin, most := range made {
		if strings.HasPrefix(code, begin) {
			return most, true
		}
	}
	return 0, false
}

// Every reason that the program gives has a sentence, every sentence is of a reason, and none asks for a value that its
// reason does not have.
func TestEveryReasonHasItsSentence(t *testing.T) {
	given := map[string]int{} // values, by code
	for _, root := range []string{"../../core", "../../internal", "../../cmd"} {
		err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
				filepath.Base(path) == "en.go" {
				return err
			}
			f, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(f, func(n ast.Node) bool {
				call, ok := n.(*ast.CallExpr)
				if !ok {
					return true
				}
				for i, arg := range call.Args {
					lit, ok := arg.(*ast.BasicLit)
					if !ok || lit.Kind != token.STRING {
						continue
					}
					code, _ := strconv.Unquote(lit.Value)
					if i == 1 && called(call) == "Reject" && !strings.Contains(code, ".") {
						t.Errorf("%s: refused with a sentence of its own: %s", path, code)
					}
					if _, known := en.sentences[code]; known || isReason(call) && i == 0 &&
						strings.Contains(code, ".") || i == 1 && called(call) == "Reject" {
						given[code] = max(given[code], len(call.Args)-i-1)
						if call.Ellipsis.IsValid() {
							given[code] = 9
						}
					}
				}
				return true
			})
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	if len(given) < 400 {
		t.Fatalf("only %d reasons are found", len(given))
	}
	place := regexp.MustCompile(`%\[(\d+)\]`)
	for code, values := range given {
		sentence, known := en.sentences[code]
		if _, dynamic := madeUp(code); !known && !(dynamic && strings.HasSuffix(code, "-")) {
			t.Errorf("%s has no sentence", code)
		}
		for _, m := range place.FindAllStringSubmatch(sentence, -1) {
			if n, _ := strconv.Atoi(m[1]); n > values {
				t.Errorf("%s has %d values, and its sentence asks for more: %s", code, values, sentence)
			}
		}
	}
	for code, sentence := range en.sentences {
		_, dynamic := madeUp(code)
		if _, used := given[code]; !used && !dynamic {
			t.Errorf("nobody says %s: %s", code, sentence)
		}
	}
}

// isReason tells whether a call is one of those that take a code first.
// called is the name of the function or method of a call.
func called(call *ast.CallExpr) string {
	switch f := call.Fun.(type) {
	case *ast.Ident:
		return f.Name
	case *ast.SelectorExpr:
		return f.Sel.Name
	}
	return ""
}

// isReason tells whether a call makes a reason of the code that is its first argument: reason.Of, Words.Of, or because
// of a package's own.
func isReason(call *ast.CallExpr) bool { return called(call) == "Of" || called(call) == "because" }

// What families propose is named: their steps, their choices with each option and its reason.
func TestFamiliesAreNamed(t *testing.T) {
	w := For(false)
	for _, name := range family.All() {
		law, _ := family.Of(name)
		for _, c := range law.Choices(nil) {
			code := family.ChoiceCode(name, c.ID)
			for _, o := range c.Options {
				for _, x := range []string{code, code + "." + o, code + "." + o + ".why"} {
					if w.Say(reason.Of(x)) == "" {
						t.Errorf("%s is not named", x)
					}
				}
			}
		}
		for _, p := range law.Tile() {
			for _, o := range p.Options {
				if code := family.TileCode(p.ID); w.Of(code) == "" || w.Of(code+"."+o) == "" {
					t.Errorf("%s.%s is not named", code, o)
				}
			}
		}
		is := law.Traits()
		for _, word := range []reason.Word{family.Term(name), is.One, is.Counted(2), is.Unit, is.Lost, is.Centre,
			reason.Word(is.Rounds)} {
			if _, known := w.tongue.words[word]; !known && word != "" {
				t.Errorf("%s: there is no word for %q", name, word)
			}
		}
		for _, choice := range []map[string]string{{}, {"shape": "cup", "coats": "two", "stand": "standing",
			"wash": "none", "style": "layers", "divide": "cut", "skin": "rolled"}} {
			f := &treat.Formula{Family: name, Choices: choice}
			for _, role := range law.Roles() {
				f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: role})
			}
			for _, s := range family.Proposed(f, w.Step) {
				if strings.HasPrefix(s.Name, "step.") || s.Name == "" {
					t.Errorf("%s: a step is called %q", name, s.Name)
				}
			}
		}
	}
}

// Each kind of value as the two kinds of kitchen read it. 340.19 g are 12 oz; 31 C are 87.8 F.
func TestValues(t *testing.T) {
	mass := measure.ShowGrams(340.194)
	for _, c := range []struct {
		value      reason.Value
		metric, us string
	}{
		{mass, "340 g", "12 oz"},
		{measure.Other{Shown: mass}, "12 oz", "340 g"},
		{measure.Span{From: measure.ShowGrams(100), To: mass}, "100 g to 340 g", "3 1/2 oz to 12 oz"},
		{reason.Celsius(31), "31 °C (88 °F)", "88 °F (31 °C)"},
		{reason.Band{From: 31, To: 32}, "31 to 32 °C (88 to 90 °F)", "88 to 90 °F (31 to 32 °C)"},
		{reason.Warmer(5), "5 °C", "9 °F"},
		{reason.Share(0.065), "6.5%", "6.5%"},
		{reason.Int(12345), "12,345", "12,345"},
		{reason.Minutes(125), "2\u00a0h\u00a05\u00a0min", "2\u00a0h\u00a05\u00a0min"},
		{reason.Hours(24), "24 hours", "24 hours"},
		{reason.Hours(72), "3 days", "3 days"},
		{reason.Count{N: 1, Of: "sheet"}, "1 sheet", "1 sheet"},
		{reason.Count{N: 3, Of: "sheet"}, "3 sheets", "3 sheets"},
		{reason.Money{Amount: "12.50", Currency: "USD"}, "$12.50", "$12.50"},
		{reason.Money{Amount: "-3.00", Currency: "EUR"}, "-€3.00", "-€3.00"},
		{reason.Money{Amount: "12", Currency: "XXX"}, "12 XXX", "12 XXX"},
		{reason.Names([]string{"Ada", "Bo", "Cy"}), "Ada, Bo and Cy", "Ada, Bo and Cy"},
		{reason.Any{reason.Word("g"), reason.Word("each")}, "g or each", "g or each"},
		{reason.Chain{reason.Name("a"), reason.Name("b"), reason.Name("a")}, "a → b → a", "a → b → a"},
		{reason.Name(""), "something that is gone", "something that is gone"},
		{reason.Day("2026-09-08"), "Tue 8 Sep", "Tue 8 Sep"},
		{reason.Moment{Day: "2026-09-08", Clock: 9*60 + 5}, "Tue 8 Sep, 09:05", "Tue 8 Sep, 9:05\u00a0am"},
		{reason.Clock(18 * 60), "18:00", "6:00\u00a0pm"}, {reason.Clock(24 * 60), "midnight", "midnight"},
		{reason.Said("As it was."), "As it was.", "As it was."},
	} {
		if got := For(false).Value(c.value); got != c.metric {
			t.Errorf("%#v: metric %q, want %q", c.value, got, c.metric)
		}
		if got := For(true).Value(c.value); got != c.us {
			t.Errorf("%#v: US %q, want %q", c.value, got, c.us)
		}
	}
}

// An answer has a sentence wherever core has a reason: in fields, lists, maps and behind pointers; and what is no
// reason stands as encoding/json writes it.
func TestAnswers(t *testing.T) {
	why := reason.Of("measure.not-positive")
	body := struct {
		Why   reason.Reason            `json:"why"`
		None  reason.Reason            `json:"none,omitzero"`
		Text  reason.Text              `json:"text"`
		Empty reason.Text              `json:"empty,omitempty"`
		List  []reason.Reason          `json:"list"`
		Of    map[string]reason.Reason `json:"of"`
		At    *reason.Reason           `json:"at"`
		Any   any                      `json:"any"`
		Nil   []string                 `json:"nil"`
		Zero  int                      `json:"zero,omitempty"`
	}{Why: why, Text: reason.Text{why, why}, List: []reason.Reason{why}, Of: map[string]reason.Reason{"a": why},
		At: &why, Any: []any{why, "<&>"}}
	var out bytes.Buffer
	if err := For(false).JSON(&out, body); err != nil {
		t.Fatal(err)
	}
	const says = `"The amount must be more than 0."`
	want := `{"why":` + says + `,"text":"The amount must be more than 0. The amount must be more than 0.","list":[` +
		says + `],"of":{"a":` + says + `},"at":` + says + `,"any":[` + says + `,"<&>"],"nil":null}` + "\n"
	if out.String() != want {
		t.Errorf("got  %swant %s", out.String(), want)
	}
}

// An error is a sentence whichever kind it is: a reason, one of measure's own, several faults, or none of core's.
func TestErrors(t *testing.T) {
	_, unknown := measure.Read("3 stone")
	_, missing := measure.Of(1, measure.Cup).In(measure.Gram, measure.Substance{})
	_, never := measure.Of(1, measure.Inch).In(measure.Gram, measure.Substance{})
	var faults invalid.Faults
	faults.Because("a", "measure.not-positive")
	faults.Because("b", "measure.no-amount", reason.Name("x"))
	for _, c := range []struct {
		err  error
		says string
	}{
		{unknown, "“stone” is not a unit we know"},
		{missing, "A volume cannot be turned into a mass here because the density is not known"},
		{never, "A length cannot be turned into a mass."},
		{faults.Err(), "The amount must be more than 0. “x” does not start with an amount"},
		{errors.New("elsewhere"), "elsewhere"},
	} {
		if got := For(false).Error(c.err); !strings.HasPrefix(got, c.says) {
			t.Errorf("%v: %q, want %q", c.err, got, c.says)
		}
	}
}

// Sentences are sentences: what ends one begins with a capital or with a value, and no value stands without its place.
func TestSentences(t *testing.T) {
	bare := regexp.MustCompile(`%[^\[%]`)
	var codes []string
	for code := range en.sentences {
		codes = append(codes, code)
	}
	slices.Sort(codes)
	for _, code := range codes {
		s := strings.ReplaceAll(en.sentences[code], "%%", "percent")
		if bare.MatchString(s) || strings.HasPrefix(s, " ") || strings.HasSuffix(s, " ") || strings.Contains(s, "  ") {
			t.Errorf("%s: %q", code, s)
		}
	}
}

func BenchmarkSay(b *testing.B) {
	r, w := reason.Of("batch.melt", measure.ShowGrams(250), measure.ShowGrams(900), measure.ShowGrams(250)), For(false)
	for b.Loop() {
		_ = w.Say(r)
	}
}

// A kitchen in the United States reads its own spelling, and the names that people typed as they typed them. The front
// end spells by the same list.
func TestAmericanSpelling(t *testing.T) {
	us, uk := For(true), For(false)
	fault := reason.Of("order.count-of", reason.Int(12), reason.Name("Colour moulds"))
	if got := us.Say(fault); got != uk.Say(fault) || !strings.Contains(got, "Colour moulds") {
		t.Errorf("a name is spelt anew: %q", got)
	}
	british := regexp.MustCompile(`(?i)mould|colour|flavour|centre|litre|metre|cancelled|grey`)
	n := 0
	for code, sentence := range en.sentences {
		if british.MatchString(sentence) {
			n++
		}
		if british.MatchString(american.sentences[code]) {
			t.Errorf("%s: %q", code, american.sentences[code])
		}
	}
	if n < 50 || len(american.sentences) != len(en.sentences) {
		t.Errorf("%d of %d sentences have another spelling", n, len(en.sentences))
	}
	page, err := os.ReadFile("../../web/src/kit/tongue.ts")
	if err != nil {
		t.Fatal(err)
	}
	var list [][2]string
	for _, m := range regexp.MustCompile(`\['(\w+)', '(\w+)'\],`).FindAllStringSubmatch(string(page), -1) {
		list = append(list, [2]string{m[1], m[2]})
	}
	if !slices.Equal(list, Spelling()) {
		t.Errorf("the front end spells by %v, the server by %v", list, Spelling())
	}
}

// Every sign, question, cause and remedy is named, and nothing is that there is not.
func TestFaultsAreNamed(t *testing.T) {
	w := For(true)
	said := map[string]bool{}
	say := func(r reason.Reason) {
		said[r.Code] = true
		if s := w.Say(r); s == "" || strings.Contains(s, "fault.") || strings.Contains(s, "%!") {
			t.Errorf("%v is said as %q", r, s)
		}
	}
	for _, f := range fault.Facts() {
		say(f.Question())
	}
	for _, method := range []chocolate.Method{chocolate.Seed, chocolate.NoTemper} {
		s := fault.Scene{Ways: fault.Ways(), Kind: chocolate.Real, Bands: chocolate.BandsOf(chocolate.Dark), Method: method,
			Bowl: 450, Units: 6, Each: 20, Mix: 400}
		if method == chocolate.NoTemper {
			s.Kind = chocolate.Compound
		}
		for _, sign := range fault.Signs(nil) {
			say(sign.Named())
			for _, c := range fault.Ask(sign, &s, 0, nil).Causes {
				say(c.Why)
				say(c.Next)
				for _, f := range c.Fixes {
					say(f.Do)
				}
			}
		}
	}
	for code := range en.sentences {
		for _, kind := range []string{"sign-", "ask-", "cause-", "next-", "do-"} {
			if strings.HasPrefix(code, "fault."+kind) && !said[code] {
				t.Errorf("nobody says %s", code)
			}
		}
	}
}
