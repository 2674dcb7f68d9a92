package message

import (
	"strings"
	"testing"
	"time"

	"zestytin/core/order"
)

func at(t *testing.T, text string) time.Time {
	t.Helper()
	x, err := time.Parse(time.RFC3339, text)
	if err != nil {
		t.Fatal(err)
	}
	return x
}

// By hand, in the zone of New York (common practice for the hours, no source): what an order gives occasion for, and
// when.
func TestWhenIsWhatTold(t *testing.T) {
	zone, err := time.LoadLocation("America/New_York")
	if err != nil {
		t.Fatal(err)
	}
	made := at(t, "2026-09-03T10:20:00-04:00")
	quoted := Facts{State: order.Quoted, From: at(t, "2026-09-12T14:00:00-04:00"),
		Quote: &Offer{ID: "q1", Made: made, Expires: at(t, "2026-09-10T10:20:00-04:00"), Open: true}}
	promised := Facts{State: order.Promised, From: quoted.From, Promised: at(t, "2026-09-04T09:00:00-04:00"),
		DepositOpen: true, Quote: &Offer{ID: "q1", Made: made}}
	change := func(f Facts, do func(*Facts)) Facts { do(&f); return f }
	for name, c := range map[string]struct {
		facts Facts
		kind  Kind
		days  int
		minute,
		at, cause string
	}{
		"a quote": {facts: quoted, kind: Quote, at: "2026-09-03T10:20:00-04:00", cause: "q1"},
		"three days without an answer": {facts: quoted, kind: Reminder, days: 3, at: "2026-09-06T10:20:00-04:00",
			cause: "q1"},
		"a reminder after the quote has ended": {facts: quoted, kind: Reminder, days: 8},
		"an answered one": {facts: change(quoted, func(f *Facts) {
			f.Quote = &Offer{ID: "q1", Made: made, Expires: quoted.Quote.Expires}
		}), kind: Reminder, days: 3},
		"a deposit": {facts: promised, kind: Deposit, at: "2026-09-04T09:00:00-04:00", cause: "promised"},
		"a part of several": {facts: change(promised, func(f *Facts) {
			f.DepositBy = at(t, "2026-09-20T00:00:00-04:00")
		}), kind: Deposit, at: "2026-09-13T10:00:00-04:00", cause: "by 2026-09-20"},
		"a part that is due in three days": {facts: change(promised, func(f *Facts) {
			f.DepositBy = at(t, "2026-09-07T00:00:00-04:00")
		}), kind: Deposit, at: "2026-09-04T09:00:00-04:00", cause: "by 2026-09-07"},
		"a deposit that came": {facts: change(promised, func(f *Facts) { f.DepositOpen = false }), kind: Deposit},
		"the day before":      {facts: promised, kind: DayBefore, at: "2026-09-11T10:00:00-04:00", cause: "2026-09-12"},
		"moved by a day": {facts: change(promised, func(f *Facts) { f.From = f.From.AddDate(0, 0, 1) }), kind: DayBefore,
			at: "2026-09-12T10:00:00-04:00", cause: "2026-09-13"},
		"promised on the day before, in the afternoon": {facts: change(promised, func(f *Facts) {
			f.Promised = at(t, "2026-09-11T15:00:00-04:00")
		}), kind: DayBefore},
		"a quote is no promise": {facts: quoted, kind: DayBefore},
		// The clocks go back on 1 November: ten o'clock is 05:00 behind UTC then.
		"over a change of the clocks": {facts: change(promised, func(f *Facts) {
			f.From = at(t, "2026-11-02T14:00:00-05:00")
		}), kind: DayBefore, at: "2026-11-01T10:00:00-05:00", cause: "2026-11-02"},
		"ready": {facts: Facts{State: order.Packed, Packed: made}, kind: Ready, at: "2026-09-03T10:20:00-04:00",
			cause: "packed"},
		"what is brought is not picked up": {facts: Facts{State: order.Packed, Packed: made, Delivered: true}, kind: Ready},
		"thanks": {facts: Facts{State: order.Settled, HandedOver: made}, kind: Thanks, days: 1,
			at: "2026-09-04T10:00:00-04:00", cause: "handed over"},
		"brought back": {facts: Facts{State: order.Packed, HandedOver: made}, kind: Thanks},
		"on the way":   {facts: promised, kind: OnTheWay},
	} {
		rule := Usual(c.kind)
		rule.Days = c.days
		o, ok := c.facts.Due(c.kind, rule, zone)
		switch {
		case ok != (c.at != ""):
			t.Errorf("%s: %v, %+v", name, ok, o)
		case ok && (!o.At.Equal(at(t, c.at)) || o.Cause != c.cause || o.Until.Sub(o.At) > Stale || !o.Until.After(o.At)):
			t.Errorf("%s: %+v, want %s of %q", name, o, c.at, c.cause)
		}
	}
}

// Switched on, it tells nothing from before; and a server that was off tells no old news.
func TestNothingFromBefore(t *testing.T) {
	noon := at(t, "2026-09-03T12:00:00Z")
	r := Rule{On: true, Since: noon}
	for _, c := range []struct {
		at, now time.Duration
		told    bool
	}{{-time.Minute, time.Hour, false}, {0, 0, true}, {time.Hour, time.Minute, false}, {time.Hour, 24 * time.Hour, true},
		{time.Hour, 25 * time.Hour, false}} {
		o := Occasion{At: noon.Add(c.at), Until: noon.Add(c.at + Stale)}
		if got := r.Told(o, noon.Add(c.now)); got != c.told {
			t.Errorf("due after %s, asked after %s: %v", c.at, c.now, got)
		}
	}
	r.On = false
	if r.Told(Occasion{At: noon, Until: noon.Add(Stale)}, noon) {
		t.Error("it is told though it is switched off")
	}
	// "Tomorrow" is not said on the day itself, whatever kept it.
	zone := time.FixedZone("", -4*3600)
	f := Facts{State: order.Promised, From: at(t, "2026-09-12T14:00:00-04:00")}
	r = Rule{On: true, At: 21 * 60}
	for clock, told := range map[string]bool{"2026-09-11T20:59:00-04:00": false, "2026-09-11T21:00:00-04:00": true,
		"2026-09-11T23:59:00-04:00": true, "2026-09-12T00:00:00-04:00": false} {
		if o, ok := f.Due(DayBefore, r, zone); !ok || r.Told(o, at(t, clock)) != told {
			t.Errorf("%s: %+v", clock, o)
		}
	}
}

func TestQuietHours(t *testing.T) {
	zone := time.FixedZone("", -4*3600)
	for _, c := range []struct {
		q        Quiet
		at, next string
	}{
		{Quiet{21 * 60, 8 * 60}, "2026-09-03T20:59:00-04:00", "2026-09-03T20:59:00-04:00"},
		{Quiet{21 * 60, 8 * 60}, "2026-09-03T21:00:00-04:00", "2026-09-04T08:00:00-04:00"},
		{Quiet{21 * 60, 8 * 60}, "2026-09-04T07:59:59-04:00", "2026-09-04T08:00:00-04:00"},
		{Quiet{21 * 60, 8 * 60}, "2026-09-04T08:00:00-04:00", "2026-09-04T08:00:00-04:00"},
		{Quiet{13 * 60, 14 * 60}, "2026-09-03T13:30:00-04:00", "2026-09-03T14:00:00-04:00"},
		{Quiet{13 * 60, 14 * 60}, "2026-09-03T14:30:00-04:00", "2026-09-03T14:30:00-04:00"},
		{Quiet{0, 0}, "2026-09-03T03:00:00-04:00", "2026-09-03T03:00:00-04:00"},
	} {
		if got := c.q.Next(at(t, c.at), zone); !got.Equal(at(t, c.next)) {
			t.Errorf("%v, %s: %s, want %s", c.q, c.at, got, c.next)
		}
	}
	if (Quiet{-1, 1440}).Check() == nil || (Quiet{0, 1439}).Check() != nil {
		t.Error("a day has minutes 0 to 1439")
	}
}

func TestTemplatesAreFilledIn(t *testing.T) {
	letter := Template{Subject: "{day}: {treats}", Body: "Dear {customer},\n\nat {place}.\nThe rest is {balance}.\n{from} {to}\n\nMaren"}
	got := letter.Fill(map[string]string{"customer": "Wren\nBcc: all@elsewhere.example", "day": "Saturday",
		"treats": "12\r\nbombs", "from": "2 pm"})
	if got.Subject != "Saturday: 12 bombs" {
		t.Errorf("subject %q", got.Subject)
	}
	if want := "Dear Wren\nBcc: all@elsewhere.example,\n\n2 pm \n\nMaren"; got.Body != want {
		t.Errorf("body %q, want %q", got.Body, want)
	}
	// What was filled in is not filled in again.
	if got := letter.Fill(map[string]string{"customer": "{balance}", "balance": "9", "day": "x"}); !strings.Contains(got.Body,
		"Dear {balance},") {
		t.Errorf("body %q", got.Body)
	}
	for _, bad := range []struct {
		Template
		path string
	}{{Template{"", "x"}, "subject: message.write-something"}, {Template{"x", " \n"}, "body: message.write-something"},
		{Template{"a\nb", "x"}, "subject: message.subject-is-one-line"},
		{Template{"x", "{total}"}, "body: message.no-such-field({total}"},
		{Template{"x", "{minutes}"}, "body: message.no-such-field({minutes}"},
		{Template{strings.Repeat("é", 151), "x"}, "subject: message.too-long"}} {
		if err := bad.Check(Quote); err == nil || !strings.HasPrefix(err.Error(), bad.path) {
			t.Errorf("%q: %v, want %s", bad.Template, err, bad.path)
		}
	}
	if err := (&Template{"{customer}", "in {minutes} min, {{nothing}"}).Check(OnTheWay); err == nil {
		t.Error("a field within braces is taken")
	}
	if err := (&Template{strings.Repeat("é", 150), "in {minutes} min { }"}).Check(OnTheWay); err == nil {
		t.Error("an empty field is taken")
	}
	if err := (&Template{strings.Repeat("é", 150), "in {minutes} min, }{"}).Check(OnTheWay); err != nil {
		t.Errorf("braces alone: %v", err)
	}
}

// Telephone numbers by ITU-T E.164 (15 digits at most), addresses by RFC 5322.
func TestReach(t *testing.T) {
	for _, c := range []struct {
		way         Way
		typed, want string
	}{{Mail, " Wren@Lakeside.example ", "wren@lakeside.example"}, {Mail, "Wren <wren@lakeside.example>", ""}, {Mail, "", ""},
		{Mail, "a@b.example\r\nBcc: c@d.example", ""}, {Mail, "a@b.example, c@d.example", ""},
		{Text, "+1 (555) 010-0199", "+15550100199"}, {Text, "555 0199", "5550199"}, {Text, "ring me", ""},
		{Text, "+1234567890123456", ""}} {
		mail, phone := c.typed, c.typed
		got, err := Reach(c.way, mail, phone)
		if got != c.want || (err == nil) != (c.want != "") {
			t.Errorf("%s %q: %q, %v", c.way, c.typed, got, err)
		}
	}
}

func TestRulesOfEveryKind(t *testing.T) {
	for _, k := range Kinds() {
		if r := Usual(k); r.On || r.Check() != nil {
			t.Errorf("%s: %+v, %v", k, r, r.Check())
		}
		if err := (&Template{"{customer}", strings.Join(Fields(k), "")}).Check(k); err != nil {
			t.Error(err)
		}
	}
	if err := (Rule{Days: 61, At: 1440}).Check(); err == nil || err.Error() != "days: message.wait-so-many-days(60); "+
		"at: message.choose-a-time-of-day" {
		t.Error(err)
	}
}

// Whatever customers and sellers type, a subject stays one line, nothing that was filled in is filled in again, and
// what has no field stays as it was written.
func FuzzFill(f *testing.F) {
	f.Add("{customer}: {day}", "Dear {customer}", "Wren", "")
	f.Add("a", "{day}\n{x}", "{day}", "\r\n.\r\n")
	f.Add("{{customer}}", "}{", "\x00", "é")
	f.Fuzz(func(t *testing.T, subject, body, customer, day string) {
		letter := Template{Subject: subject, Body: body}
		got := letter.Fill(map[string]string{"customer": customer, "day": day})
		if strings.ContainsAny(got.Subject, "\r\n") {
			t.Errorf("a subject of two lines: %q", got.Subject)
		}
		if !strings.ContainsAny(body, "{}") && strings.TrimSpace(blanks.ReplaceAllString(body, "\n\n")) != got.Body {
			t.Errorf("without a field %q became %q", body, got.Body)
		}
		if len(got.Body) > (len(body)+1)*(len(customer)+len(day)+2) {
			t.Errorf("%d bytes of %d", len(got.Body), len(body))
		}
	})
}
