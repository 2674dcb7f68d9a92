package orders

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"zestytin/core/invalid"
	"zestytin/core/label"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (o *Orders) registerTags() {
	read := huma.Operation{OperationID: "read-guests", Method: "POST", Path: "/api/v1/calculators/guests",
		Summary: "Read a list of guests, by table; nothing is saved", Tags: []string{"Calculators"},
		MaxBodyBytes: web.MostText}
	web.Register(o.Base, read, o.guests)
	tags := huma.Operation{OperationID: "print-tags", Method: "POST", Path: "/api/v1/calculators/tags.pdf",
		Summary: "A tag for each guest of a list, on a sheet or a roll of labels; nothing is saved",
		Tags:    []string{"Labels"}, MaxBodyBytes: web.MostText}
	tags.Responses = web.FileOf("application/pdf", "Tags")
	web.Register(o.Base, tags, o.tags)
}

// GuestText is a list of guests as it was pasted.
type GuestText struct {
	Text string `json:"text" maxLength:"262144" doc:"CSV with names and tables, or a name a line"`
}

// Guests of a list.
type Guests struct {
	Guests []label.Guest  `json:"guests" doc:"By table"`
	Tables []GuestTable   `json:"tables"`
	Bad    []table.BadRow `json:"bad" doc:"Rows that cannot be taken, and why"`
}

// GuestTable is how many sit at a table.
type GuestTable struct {
	Name   string `json:"name" doc:"Empty: at none"`
	Guests int    `json:"guests"`
}

func readGuests(text string) (Guests, error) {
	var g Guests
	var err error
	if g.Guests, g.Bad, err = label.Guests(text); err != nil {
		return g, invalid.At("text", err)
	}
	g.Tables = []GuestTable{}
	for _, x := range g.Guests {
		if n := len(g.Tables); n == 0 || g.Tables[n-1].Name != x.Table {
			g.Tables = append(g.Tables, GuestTable{Name: x.Table})
		}
		g.Tables[len(g.Tables)-1].Guests++
	}
	return g, nil
}

func (o *Orders) guests(_ context.Context, in *struct{ Body GuestText }) (*struct{ Body Guests }, error) {
	g, err := readGuests(in.Body.Text)
	return &struct{ Body Guests }{g}, err
}

func (o *Orders) tags(ctx context.Context, in *struct {
	OnSheet
	Start int `query:"start" minimum:"1" maximum:"2500" default:"1" doc:"The label of the sheet to begin with"`
	Body  GuestText
}) (*web.File, error) {
	sheet, err := in.sheet()
	if err != nil {
		return nil, err
	}
	g, err := readGuests(in.Body.Text)
	if err != nil {
		return nil, err
	}
	if len(g.Guests) == 0 {
		return nil, invalid.At("text", reason.Of("label.no-guests"))
	}
	words, face := text.Of(ctx), paper.Letters()
	fitted := make([]*label.Fitted, len(g.Guests))
	for i, x := range g.Guests {
		beside := ""
		if x.Table != "" {
			beside = words.Of("label.table", reason.Name(x.Table))
		}
		if fitted[i], err = label.Tag(x.Name, beside, sheet.Long, sheet.High, face); err != nil {
			return nil, web.Because(http.StatusConflict, reason.Because(err))
		}
	}
	places, err := sheet.Places(in.Start, len(fitted))
	if err != nil {
		return nil, err
	}
	pdf, err := paper.Tags(words.Of("label.tags"), sheet.Width, sheet.Height, places, fitted)
	return web.Download("tags.pdf", "application/pdf", pdf), err
}
