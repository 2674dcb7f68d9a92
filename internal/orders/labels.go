package orders

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/label"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (o *Orders) registerLabels() {
	op := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: "GET", Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Labels"}}
	}
	web.Register(o.Base, op("list-label-sheets", "label-sheets",
		"Sheets and rolls of labels that are common, by their measures"),
		o.labelSheets)
	web.Register(o.Base, op("get-labels", "orders/{id}/labels",
		"What stands on the label of each line of an order, laid out to scale; it is not said that it is sufficient"), o.labels)
	printed := op("print-labels", "orders/{id}/labels.pdf", "The labels of a line of an order, on a sheet or a roll")
	printed.Responses = web.FileOf("application/pdf", "Labels")
	web.Register(o.Base, printed, o.printLabels)
	slip := op("print-packing-slip", "orders/{id}/packing-slip.pdf",
		"What goes to a customer and in what it is packed, without prices")
	slip.Responses = web.FileOf("application/pdf", "A packing slip")
	web.Register(o.Base, slip, o.packingSlip)
	trial := op("print-calibration", "label-sheets/calibration.pdf",
		"The outlines of a sheet of labels, with a ruler, to hold against the sheet")
	trial.Responses = web.FileOf("application/pdf", "The outlines")
	web.Register(o.Base, trial, o.calibration)
	o.registerTags()
}

// OnSheet is which sheet of labels is meant.
type OnSheet struct {
	Sheet string `query:"sheet" maxLength:"40" doc:"One of the common ones; not given with a sheet of one's own"`
	Own   string `query:"own" maxLength:"1000" doc:"A sheet of one's own, as JSON with the fields of the common ones"`
}

func (s *OnSheet) sheet() (label.Sheet, error) {
	if s.Own != "" {
		var own label.Sheet
		if err := json.Unmarshal([]byte(s.Own), &own); err != nil {
			return own, &invalid.Error{Fields: []invalid.Field{{Path: "own", Err: reason.Of("label.own-sheet-not-read")}}}
		}
		return own, under("own", own.Check())
	}
	for _, of := range label.Sheets() {
		if of.ID == s.Sheet || s.Sheet == "" {
			return of, nil
		}
	}
	return label.Sheet{}, invalid.At("sheet", reason.Of("label.no-such-sheet"))
}

func under(path string, err error) error {
	var faults invalid.Faults
	faults.Under(path, err)
	return faults.Err()
}

// LabelSheet is a sheet with its name.
type LabelSheet struct {
	label.Sheet
	Labels int              `json:"labels" doc:"On a page"`
	Sides  [2]measure.Shown `json:"sides" doc:"Of a label: along the page's width, and down"`
}

// LabelSheets are those that are common.
type LabelSheets struct {
	Sheets []LabelSheet `json:"sheets"`
}

func (o *Orders) labelSheets(context.Context, *struct{}) (*struct{ Body LabelSheets }, error) {
	var list LabelSheets
	for _, s := range label.Sheets() {
		list.Sheets = append(list.Sheets, LabelSheet{s, s.Columns * s.Rows,
			[2]measure.Shown{label.Millimetres(s.Long), label.Millimetres(s.High)}})
	}
	return &struct{ Body LabelSheets }{list}, nil
}

// LabelOf a line of an order.
type LabelOf struct {
	Line   int             `json:"line" doc:"Index of the order's line; those of mixed boxes follow the lines"`
	Name   string          `json:"name"`
	Pieces int             `json:"pieces" doc:"That one label is for"`
	Labels int             `json:"labels" doc:"That the line takes"`
	Fitted *label.Fitted   `json:"fitted,omitempty" doc:"As it is printed; not given where it cannot be"`
	Letter *measure.Shown  `json:"letter,omitempty" doc:"The height of its smallest small letters"`
	Fault  *reason.Reason  `json:"fault,omitempty" doc:"Why it cannot be printed, and what to do"`
	Care   []reason.Reason `json:"care" doc:"What to look at before it is printed"`
	Until  string          `json:"until,omitempty" doc:"The last day that it tells"`
	Lots   []string        `json:"lots" doc:"Lot codes"`
	Made   bool            `json:"made" doc:"It has been made: its days are those on which it really was"`
}

// Labels of an order.
type Labels struct {
	Labels []LabelOf `json:"labels"`
}

// Labelled is what labels are asked for.
type Labelled struct {
	web.ID
	OnSheet
	Pieces int        `query:"pieces" minimum:"0" maximum:"10000" doc:"That one label is for; 0: what the box or bag of the line holds"`
	Free   string     `query:"free" maxLength:"300" doc:"A line that local rules ask for, printed at the end"`
	Code   paper.Code `query:"code" enum:"qr,lot,ean" doc:"A code for machines: a QR code of any text, the lot as a barcode, an article's number; none: not given"`
	Says   string     `query:"says" maxLength:"300" doc:"What the QR code or the article's number says"`
}

func (o *Orders) labels(ctx context.Context, in *Labelled) (*struct{ Body Labels }, error) {
	sheet, err := in.sheet()
	if err != nil {
		return nil, err
	}
	list := Labels{Labels: []LabelOf{}}
	err = o.In(ctx, func(tx pgx.Tx) error {
		all, err := o.labelling(ctx, tx, in)
		for _, l := range all {
			list.Labels = append(list.Labels, l.on(sheet, in))
		}
		return err
	})
	return &struct{ Body Labels }{list}, err
}

// lettering is the label of a line in its final words.
type lettering struct {
	order.Labelling
	line       int
	law        food.Law
	paragraphs []label.Paragraph
}

// on a sheet as it is printed.
func (l *lettering) on(sheet label.Sheet, in *Labelled) LabelOf {
	of := LabelOf{Line: l.line, Name: l.Name, Pieces: l.Pieces, Labels: l.Labels, Care: []reason.Reason{}, Until: l.Until,
		Lots: l.Lots, Made: l.Made.Done}
	if of.Lots == nil {
		of.Lots = []string{}
	}
	least := label.LeastOf(l.law, l.Side, l.Grams)
	symbol, err := l.symbol(in)
	var fitted *label.Fitted
	if err == nil {
		fitted, err = label.FitWith(l.paragraphs, sheet.Long, sheet.High, least, paper.Letters(), symbol)
	}
	var said reason.Reason
	if errors.As(err, &said) {
		of.Fault = &said
	}
	if of.Fitted = fitted; fitted != nil {
		of.Letter = new(label.Millimetres(fitted.Letter))
	}
	for _, name := range l.NotSo {
		of.Care = append(of.Care, reason.Of("label.not-called-chocolate", reason.Name(name)))
	}
	switch {
	case l.Until == "":
		of.Care = append(of.Care, reason.Of("label.no-day-yet"))
	case !l.Made.Done:
		of.Care = append(of.Care, reason.Of("label.day-is-planned", reason.Day(l.Made.Day)))
	}
	of.Care = append(of.Care, reason.Of("label.local-rules-decide"))
	return of
}

// symbol that is asked for; nil: none.
func (l *lettering) symbol(in *Labelled) (*label.Symbol, error) {
	switch {
	case in.Code == "":
		return nil, nil
	case in.Code == paper.Lot:
		return paper.SymbolOf(in.Code, strings.Join(l.Lots[:min(len(l.Lots), 1)], ""))
	}
	return paper.SymbolOf(in.Code, in.Says)
}

// labelling of all lines of an order.
func (o *Orders) labelling(ctx context.Context, tx pgx.Tx, in *Labelled) ([]lettering, error) {
	p, err := o.packing(ctx, tx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	s, k, r, made := p.stored, p.kitchen, p.estimate, p.made
	var kitchen, address, home string
	if err := tx.QueryRow(ctx, `select name, address, home_statement from kitchens`).Scan(&kitchen, &address,
		&home); err != nil {
		return nil, err
	}
	list := make([]lettering, 0, len(r.Lines)+len(s.Draft.Sets))
	add := func(of order.Labelling) {
		l := lettering{Labelling: of, line: len(list), law: k.Law}
		l.write(text.Of(ctx), kitchen, address, home, in.Free)
		list = append(list, l)
	}
	for i := range r.Lines {
		add(r.Label(&s.Draft, i, in.Pieces, made[i], k))
	}
	for n := range s.Draft.Sets {
		add(r.SetLabel(&s.Draft, n, made, k))
	}
	return list, nil
}

// write it in words.
func (l *lettering) write(words *text.Words, kitchen, address, home, free string) {
	add := func(role label.Role, spans ...label.Span) {
		l.paragraphs = append(l.paragraphs, label.Paragraph{Role: role, Spans: spans})
	}
	bold := func(text string) label.Span { return label.Span{Text: text, Bold: true} }
	plain := func(text string) label.Span { return label.Span{Text: text} }
	if len(l.Parts) > 0 {
		l.Name = words.Of("label.mixed-box")
	}
	add(label.Title, bold(l.Name))
	for _, p := range l.Parts {
		add(label.Text, append([]label.Span{bold(words.Of("label.ingredients-of", reason.Int(p.Pieces),
			reason.Name(p.Name)) + " ")}, p.Ingredients...)...)
	}
	if len(l.Parts) == 0 {
		add(label.Text, append([]label.Span{bold(words.Of("label.ingredients") + " ")}, l.Ingredients...)...)
	}
	if len(l.Contains) > 0 {
		add(label.Text, bold(words.Of("label.contains", reason.Series(reason.Words(asStrings(l.Contains))))))
	}
	net := words.Of("label.net", reason.Name(l.Net))
	if l.law != food.LawUS {
		net = l.Net
	}
	add(label.Weight, bold(net))
	var dated []label.Span
	if l.Until != "" {
		code := words.Of("label.best-before", reason.Date(l.Until))
		if l.UseBy {
			code = words.Of("label.use-by", reason.Date(l.Until))
		}
		dated = append(dated, bold(code))
	}
	if len(l.Lots) > 0 {
		dated = append(dated, plain("  "+strings.Join(l.Lots, " ")))
	}
	if len(dated) > 0 {
		add(label.Text, dated...)
	}
	add(label.Text, plain(words.Value(l.Keep)))
	for _, s := range l.Serving {
		add(label.Text, plain(words.Value(s)))
	}
	maker := kitchen
	if address != "" {
		maker += ", " + strings.Join(strings.Fields(address), " ")
	}
	add(label.Text, plain(maker))
	if home != "" {
		add(label.Text, plain(home))
	}
	if free = strings.Join(strings.Fields(free), " "); free != "" {
		add(label.Text, plain(free))
	}
}

func asStrings(list []reason.Word) []string {
	names := make([]string, len(list))
	for i, w := range list {
		names[i] = string(w)
	}
	return names
}

// madeOf the lines of an order: the day from which each ages, that of the step that it is fresh from, as it was done or
// else as it is planned, the first of all that it is made in; and its lots. A lot is a batch: its code begins with L
// (Directive 2011/91/EU, Art. 3) and tells the day and the batch.
func madeOf(ctx context.Context, tx pgx.Tx, id uuid.UUID) (map[int]order.Made, error) {
	rows, err := tx.Query(ctx, `select h.position, b.id, b.made_at is not null,
			coalesce((s.done_at at time zone (select time_zone from kitchens))::date, s.day)::text
		from batch_shares h join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
		join lateral (select x.done_at, x.day from batch_steps x where x.kitchen_id = b.kitchen_id and x.batch_id = b.id
			and (x.step = b.work ->> 'fresh_from' or coalesce(b.work ->> 'fresh_from', '') = '')
			order by x.day desc, x.start desc limit 1) s on true
		where h.order_id = $1 order by h.position, 4, b.id`, id)
	if err != nil {
		return nil, err
	}
	made := map[int]order.Made{}
	var line int
	var batch uuid.UUID
	var done bool
	var day string
	_, err = pgx.ForEachRow(rows, []any{&line, &batch, &done, &day}, func() error {
		m, seen := made[line]
		if !seen {
			m = order.Made{Day: day, Done: true}
		}
		m.Done = m.Done && done
		m.Lots = append(m.Lots, lotCode(day, batch))
		made[line] = m
		return nil
	})
	return made, err
}

// lotCode of a batch that was made on a day: L260903-7F2A.
func lotCode(day string, batch uuid.UUID) string {
	id := batch.String()
	return fmt.Sprintf("L%s-%s", strings.ReplaceAll(day[2:], "-", ""), strings.ToUpper(id[len(id)-4:]))
}

func (o *Orders) printLabels(ctx context.Context, in *struct {
	Labelled
	Line  int `query:"line" minimum:"-1" maximum:"1000" doc:"Of a label of the order, as they are listed; -1: all of them, one after the other"`
	Start int `query:"start" minimum:"1" maximum:"2500" default:"1" doc:"The label of the sheet to begin with: those before are used up"`
	Count int `query:"count" minimum:"0" maximum:"2000" doc:"How many; 0: as many as the line takes"`
}) (*web.File, error) {
	sheet, err := in.sheet()
	if err != nil {
		return nil, err
	}
	var pdf []byte
	err = o.In(ctx, func(tx pgx.Tx) error {
		all, err := o.labelling(ctx, tx, &in.Labelled)
		if err != nil {
			return err
		}
		if in.Line >= len(all) {
			return web.NotFound("line")
		}
		if in.Line >= 0 {
			all = all[in.Line : in.Line+1]
		}
		var printed []*label.Fitted
		for i := range all {
			of := all[i].on(sheet, &in.Labelled)
			switch {
			case of.Fault != nil:
				return web.Because(http.StatusConflict, reason.Of("label.of-a-treat", reason.Name(of.Name), *of.Fault))
			case of.Until == "":
				return web.Reject(http.StatusConflict, "label.no-day-yet")
			}
			count := in.Count
			if count == 0 {
				count = min(of.Labels, label.MostLabels-len(printed))
			}
			printed = append(printed, slices.Repeat([]*label.Fitted{of.Fitted}, count)...)
		}
		places, err := sheet.Places(in.Start, len(printed))
		if err != nil {
			return err
		}
		pdf, err = paper.Tags(all[0].Name, sheet.Width, sheet.Height, places, printed)
		return err
	})
	return web.Download("labels.pdf", "application/pdf", pdf), err
}

func (o *Orders) calibration(ctx context.Context, in *OnSheet) (*web.File, error) {
	sheet, err := in.sheet()
	if err != nil {
		return nil, err
	}
	places, err := sheet.Places(1, sheet.Columns*sheet.Rows)
	if err != nil {
		return nil, err
	}
	pdf, err := paper.Outlines(text.Of(ctx).Of("label.calibration"), sheet.Width, sheet.Height, sheet.Long, sheet.High,
		places)
	return web.Download("calibration.pdf", "application/pdf", pdf), err
}
