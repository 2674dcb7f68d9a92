package reason

import (
	"encoding/json"
	"reflect"
	"testing"
)

// What is kept beside a stored figure is read back as it was, value by value; a sentence of a version before is read as
// one.
func TestReasonsAreKept(t *testing.T) {
	all := Text{
		Of("batch.start", Int(12), Share(0.06), Name("Tin “A”"), Word("sheet"), Number(1.25), Minutes(65),
			Celsius(31.2), Band{29, 30}, Warmer(0.8), Money{"12.50", "USD"}, Day("2026-09-03"), Clock(615),
			Count{3, "sheet"},
			List{Name("a"), Count{1, "bag"}}, Series{Int(1)}, Chain{Name("a"), Name("b")}, Any{Word("x")},
			Of("inner", Int(1)), Text{Of("one"), Of("two")}),
		Of("plain"),
	}
	data, err := json.Marshal(all)
	if err != nil {
		t.Fatal(err)
	}
	var back Text
	if err := json.Unmarshal(data, &back); err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(all, back) {
		t.Errorf("got  %#v\nwant %#v", back, all)
	}
	var old struct {
		Why  Reason
		Text Text
		None Text
	}
	if err := json.Unmarshal([]byte(`{"Why":"12 good: start 13.","Text":"Melt it. Stir it.","None":""}`),
		&old); err != nil {
		t.Fatal(err)
	}
	if want := Of(AsWritten, Name("12 good: start 13.")); !reflect.DeepEqual(old.Why, want) || len(old.Text) != 1 ||
		old.Text[0].With[0] != Name("Melt it. Stir it.") || old.None != nil {
		t.Errorf("%v", old)
	}
	for _, bad := range []string{`{"code":"x","with":[{"as":"spell","is":1}]}`,
		`{"code":"x","with":[{"as":"int","is":"many"}]}`, `7`} {
		if err := json.Unmarshal([]byte(bad), new(Reason)); err == nil {
			t.Errorf("%s is read", bad)
		}
	}
}
