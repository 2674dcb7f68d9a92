package customers

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"io"
	"strings"

	"github.com/emersion/go-vcard"
	"github.com/jackc/pgx/v5"

	"zestytin/core/bring"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// everybody, by name.
func (c *Customers) everybody(ctx context.Context) ([]Found, error) {
	var all []Found
	err := c.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select name from (select customer as name from orders union select name from customers) x
			where name <> $1 group by lower(name), name order by lower(name)`, forgotten(ctx))
		if err != nil {
			return err
		}
		names, err := pgx.CollectRows(rows, pgx.RowTo[string])
		if err != nil {
			return err
		}
		last := ""
		for _, name := range names {
			if key(name) == last {
				continue
			}
			last = key(name)
			x, _, _, err := c.find(ctx, tx, name)
			if err != nil {
				return err
			}
			all = append(all, x)
		}
		return nil
	})
	return all, err
}

func (c *Customers) cards(ctx context.Context, _ *struct{}) (*web.File, error) {
	all, err := c.everybody(ctx)
	if err != nil {
		return nil, err
	}
	var file bytes.Buffer
	writing := vcard.NewEncoder(&file)
	for _, x := range all {
		card := make(vcard.Card)
		card.SetValue(vcard.FieldVersion, "4.0")
		card.SetValue(vcard.FieldFormattedName, x.Name)
		for field, value := range map[string]string{vcard.FieldTelephone: x.Phone, vcard.FieldEmail: x.Mail} {
			if value != "" {
				card.AddValue(field, value)
			}
		}
		if x.Place != "" {
			// The package parts an address by semicolons and leaves those in its parts as they are.
			card.AddAddress(&vcard.Address{StreetAddress: strings.ReplaceAll(x.Place, ";", ",")})
		}
		notes := x.Notes
		if wants := wants(ctx, &x); wants != "" {
			notes = strings.TrimSpace(wants + "\n" + notes)
		}
		if notes != "" {
			card.AddValue(vcard.FieldNote, notes)
		}
		if err := writing.Encode(card); err != nil {
			return nil, err
		}
	}
	return web.Download("customers.vcf", "text/vcard; charset=utf-8", file.Bytes()), nil
}

// wants of a customer, as a line.
func wants(ctx context.Context, x *Found) string {
	words := text.Of(ctx)
	list := []string{}
	if len(x.FreeFrom) > 0 {
		list = append(list, words.Of("customers.free-from", reason.Series(reason.Words(x.FreeFrom))))
	}
	for _, w := range x.Wishes {
		list = append(list, words.Word(reason.Word(w)))
	}
	return strings.Join(list, "; ")
}

func (c *Customers) sheet(ctx context.Context, _ *struct{}) (*web.File, error) {
	all, err := c.everybody(ctx)
	if err != nil {
		return nil, err
	}
	var file bytes.Buffer
	writing := csv.NewWriter(&file)
	_ = writing.Write([]string{"name", "phone", "email", "address", "notes", "free from", "wishes"})
	for _, x := range all {
		wishes := make([]string, len(x.Wishes))
		for i, w := range x.Wishes {
			wishes[i] = string(w)
		}
		row := []string{x.Name, x.Phone, x.Mail, x.Place, x.Notes, strings.Join(x.FreeFrom, ", "), strings.Join(wishes, ", ")}
		for i := range row {
			row[i] = web.Cell(row[i])
		}
		if err := writing.Write(row); err != nil {
			return nil, err
		}
	}
	writing.Flush()
	return web.Download("customers.csv", "text/csv; charset=utf-8", file.Bytes()), writing.Error()
}

// Cards as text.
type Cards struct {
	Text string `json:"text" maxLength:"2097152" doc:"vCards, one after the other"`
}

// ReadCards is what stands in them.
type ReadCards struct {
	Customers []bring.Customer `json:"customers"`
	Bad       []table.BadRow   `json:"bad" doc:"Cards that cannot be taken, and why; counted from 1"`
}

// most customers of a file.
const mostCards = 2000

func (c *Customers) readCards(_ context.Context, in *struct{ Body Cards }) (*struct{ Body ReadCards }, error) {
	list := ReadCards{Customers: []bring.Customer{}, Bad: []table.BadRow{}}
	reading := vcard.NewDecoder(strings.NewReader(in.Body.Text))
	for n := 1; ; n++ {
		card, err := reading.Decode()
		if errors.Is(err, io.EOF) {
			break
		}
		if n > mostCards {
			return nil, invalid.At("text", reason.Of("bring.too-many-rows", reason.Int(mostCards)))
		}
		if err != nil { // where the next one begins is not known
			list.Bad = append(list.Bad, table.BadRow{Line: n, Says: reason.Of("customers.not-a-card")})
			break
		}
		x := bring.Customer{Name: line(card.PreferredValue(vcard.FieldFormattedName)),
			Phone: line(strings.TrimPrefix(card.PreferredValue(vcard.FieldTelephone), "tel:")),
			Mail:  line(card.PreferredValue(vcard.FieldEmail)), Notes: strings.TrimSpace(card.PreferredValue(vcard.FieldNote))}
		if at := card.Address(); at != nil {
			parts := []string{}
			for _, p := range []string{at.StreetAddress, at.ExtendedAddress,
				strings.TrimSpace(at.PostalCode + " " + at.Locality),
				at.Region, at.Country} {
				if p = line(p); p != "" {
					parts = append(parts, p)
				}
			}
			x.Place = strings.Join(parts, ", ")
		}
		if x.Name == "" {
			if name := card.Name(); name != nil {
				x.Name = line(name.GivenName + " " + name.FamilyName)
			}
		}
		if says := x.Fault(); !says.None() {
			list.Bad = append(list.Bad, table.BadRow{Line: n, Text: x.Name, Says: says})
			continue
		}
		list.Customers = append(list.Customers, x)
	}
	if len(list.Customers)+len(list.Bad) == 0 {
		return nil, invalid.At("text", reason.Of("customers.no-cards"))
	}
	return &struct{ Body ReadCards }{list}, nil
}

// line of a value.
func line(s string) string { return strings.Join(strings.Fields(s), " ") }
