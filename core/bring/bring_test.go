package bring

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"zestytin/core/table"
	"zestytin/internal/text/said"
)

func open(t testing.TB, file string) *table.Table {
	t.Helper()
	opened, err := table.Open([]byte(file))
	if err != nil {
		t.Fatal(err)
	}
	return opened
}

func TestColumnsAreFound(t *testing.T) {
	for head, want := range map[string]CustomerColumns{
		"Name,Phone,Email,Address,Notes":                 {0, 1, 2, 3, 4},
		"E-Mail,Full name,Mobile number":                 {1, 2, 0, -1, -1},
		"id;Customer;Tel.;Street and town;Comments":      {1, 2, -1, 3, 4},
		"Email address,Customer name,Phone,Mail address": {1, 2, 0, 3, -1},
		"a,b,c": {-1, -1, -1, -1, -1},
	} {
		if got := GuessCustomers(open(t, head+"\n").Head); got != want {
			t.Errorf("%s: %+v, want %+v", head, got, want)
		}
	}
	for head, want := range map[string]PriceColumns{
		"Treat,Price,Count":             {0, 1, 2},
		"Price (USD),Product name,Qty":  {1, 0, 2},
		"name\tunit price\tper\tremark": {0, 1, 2},
		"item,cost":                     {0, 1, -1},
	} {
		if got := GuessPrices(open(t, head+"\n").Head); got != want {
			t.Errorf("%s: %+v, want %+v", head, got, want)
		}
	}
}

func TestCustomers(t *testing.T) {
	file := open(t, "Name,Phone,Mail,Notes\nAda  Quill,555 0134,ada@quill.example,\"likes dark,\nno nuts\"\n\n"+
		"Wren,,,\nWren,,,\n,555,,\nOdd,,not a mail,\n"+
		strings.Repeat("x", 101)+",,,\n")
	list, bad := GuessCustomers(file.Head).Customers(file)
	want := []Customer{{Name: "Ada Quill", Phone: "555 0134", Mail: "ada@quill.example", Notes: "likes dark,\nno nuts"},
		{Name: "Wren"}}
	if !slices.Equal(list, want) {
		t.Errorf("%+v", list)
	}
	says := []string{}
	for _, b := range bad {
		says = append(says, fmt.Sprint(b.Line, " ", said.Of(b.Says)))
	}
	if len(says) != 3 || !strings.HasPrefix(says[0], "7 ") ||
		!strings.Contains(says[1], "“not a mail” is not an email") ||
		!strings.Contains(says[2], "100 characters") {
		t.Errorf("%q", says)
	}
}

func TestPrices(t *testing.T) {
	file := open(t, "item;price;per\nStrawberries;$24.00;dozen\nBombs;4,50;\nBark;9;bag\nTruffles, box of 12;30;\n"+
		"Fudge;1.20;per 6\n"+
		"Nothing;free;1\n;3;\nMany;3;lots\n")
	list, bad := GuessPrices(file.Head).Prices(file, "USD")
	want := []Price{{"Strawberries", "24.00", 12}, {"Bombs", "4.50", 1}, {"Bark", "9.00", 1}, {"Truffles, box of 12", "30.00", 12},
		{"Fudge", "1.20", 6}}
	if !slices.Equal(list, want) {
		t.Errorf("%+v", list)
	}
	if len(bad) != 3 || bad[0].Line != 7 || !strings.Contains(said.Of(bad[2].Says), "“lots” is not a count") {
		t.Errorf("%+v", bad)
	}
	// A yen has no parts.
	file = open(t, "item,price\nTruffle,¥300\nTruffle,3.50\n")
	list, bad = GuessPrices(file.Head).Prices(file, "JPY")
	if len(list) != 1 || list[0].Price != "300" || len(bad) != 1 {
		t.Errorf("%+v %+v", list, bad)
	}
}

func TestMatch(t *testing.T) {
	book := []string{"Strawberries with white lines", "Milk malt bombs", "Dark walnut bark", "Dark sea-salt bark",
		"Brown-butter walnut fudge"}
	for name, want := range map[string]int{"strawberries with white lines": 0, "Strawberry": 0, "A dozen strawberries": 0,
		"Malt bomb": 1, "chocolate bombs": 1, "walnut bark": 2, "bark": -1, "Walnut": -1, "Fudge": 4, "Pretzels": -1,
		"":               -1,
		"Bark, sea salt": 3, "box of 6 milk malt bombs": 1} {
		if got := Match(name, book); got != want {
			t.Errorf("%q is %d, want %d", name, got, want)
		}
	}
}

// Whatever the file, every row is taken or named, and what is taken can be kept.
func FuzzBring(f *testing.F) {
	f.Add("Name,Phone\nAda,555\n")
	f.Add("item;price;per\nBombs;4,50;half a dozen\n\"\n")
	f.Fuzz(func(t *testing.T, file string) {
		opened, err := table.Open([]byte(file))
		if err != nil {
			return
		}
		list, _ := GuessCustomers(opened.Head).Customers(opened)
		for _, c := range list {
			if !c.Fault().None() {
				t.Errorf("%+v is taken", c)
			}
		}
		again := open(t, file)
		prices, _ := GuessPrices(again.Head).Prices(again, "USD")
		for _, p := range prices {
			if p.Name == "" || p.Count < 1 || p.Count > 10_000 || p.Price == "" {
				t.Errorf("%+v is taken", p)
			}
		}
	})
}
