// Package logbook tells what was made, how it came out and what that teaches: every batch with its minutes, what was
// lost, what went wrong, its bowls and its photo, and what its treat could say otherwise.
package logbook

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/photo"
	"zestytin/internal/platform/web"
)

// Logbook is the feature.
type Logbook struct {
	web.Base
	Deps
}

// Deps is what it needs of other rooms.
type Deps struct {
	// Faults of batches, by batch, the last one first.
	Faults func(context.Context, pgx.Tx, []uuid.UUID) (map[uuid.UUID][]Fault, error)
	// Formula of a treat as it is now, with its version, and what the larder says is fit to use of its centre.
	Formula func(context.Context, pgx.Tx, uuid.UUID) (f *treat.Formula, version int, usable float64, err error)
	// Write the next version of a treat's formula.
	Write func(context.Context, pgx.Tx, uuid.UUID, *treat.Formula) error
	// Fit sets what the larder says is fit to use of an ingredient.
	Fit func(context.Context, pgx.Tx, ident.Ingredient, float64) error
	// Names of ingredients.
	Names func(context.Context, pgx.Tx) (map[ident.Ingredient]string, error)
}

// Fault that was noted at a batch.
type Fault struct {
	Step   string        `json:"step"`
	Sign   reason.Reason `json:"sign"`
	Cause  reason.Reason `json:"cause"`
	Grade  string        `json:"grade"`
	Units  int           `json:"units"`
	Pieces int           `json:"pieces"`
}

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	l := &Logbook{h, needs}
	op := func(id, method, path, summary string, status int) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary,
			DefaultStatus: status, Tags: []string{"Logbook"}}
	}
	web.Register(h, op("get-logbook", "GET", "/logbook", "What was made, the last first", 0), l.list)
	asCSV := op("export-logbook", "GET", "/logbook.csv", "The logbook as CSV, a line for each step", 0)
	asCSV.Responses = web.FileOf("text/csv", "A CSV file")
	web.Register(h, asCSV, l.csv)
	web.Register(h, op("export-logbook-whole", "GET", "/logbook.json",
		"The logbook with its curves and photos, all of it", 0), l.whole)
	web.Register(h, op("get-kitchen-lessons", "GET", "/logbook/kitchen", "What all bowls of the kitchen show", 0),
		l.kitchen)
	web.Register(h, op("put-step-result", "PUT", "/batches/{id}/results/{step}",
		"What a step came to, where a person knows better than ticks and touches", http.StatusNoContent), l.correct)
	upload := op("put-photo", "PUT", "/batches/{id}/photo", "A photo of a batch: JPEG or PNG, at most 5 MB",
		http.StatusNoContent)
	upload.MaxBodyBytes, upload.BodyReadTimeout = photo.MostBytes+1, time.Minute
	web.Register(h, upload, l.putPhoto)
	download := op("get-photo", "GET", "/batches/{id}/photo", "Its photo, as a JPEG", 0)
	download.Responses = web.FileOf("image/jpeg", "A JPEG of at most 1600 px")
	web.Register(h, download, l.getPhoto)
	web.Register(h, op("remove-photo", "DELETE", "/batches/{id}/photo", "Throw its photo away", http.StatusNoContent),
		l.removePhoto)
	web.Register(h, op("list-lessons", "GET", "/treats/{id}/lessons", "What the batches of a treat have shown", 0),
		l.lessons)
	web.Register(h, op("take-lesson", "POST", "/treats/{id}/lessons",
		"Take what was learned into the treat, as its next version", http.StatusCreated), l.take)
}

// Batch of the logbook.
type Batch struct {
	ID      uuid.UUID          `json:"id"`
	Day     string             `json:"day" format:"date" doc:"On which the last of it was done"`
	Treat   uuid.UUID          `json:"treat"`
	Version int                `json:"version" doc:"Of the treat"`
	Name    string             `json:"name"`
	Family  batch.Motif        `json:"family"`
	For     []order.ShareOwner `json:"for"`
	Wanted  int                `json:"wanted"`
	Started int                `json:"started" doc:"Pieces; of bark the sheets"`
	Sold    reason.Word        `json:"sold" doc:"What it is counted in"`
	Counted bool               `json:"counted" doc:"Of each that is begun one comes out"`
	Done    bool               `json:"done" doc:"All of its steps are"`
	Good    *int               `json:"good,omitempty" doc:"As it was counted in the end"`
	Sums
	Cost   price.Money `json:"cost" doc:"As it was reckoned when it was promised"`
	Who    []string    `json:"who" doc:"Who did it"`
	Notes  []string    `json:"notes"`
	Faults []Fault     `json:"faults"`
	Bowls  []Bowl      `json:"bowls" doc:"Of its chocolates, on its days"`
	Photo  bool        `json:"photo"`
	Steps  []Step      `json:"steps"`
	Told   bool        `json:"told" doc:"Somebody has said what was lost, or that nothing was"`

	card    *batch.Card
	formula *treat.Formula
	unfit   *int
}

// Sums of a batch or a step. Pieces, or half shells where a step has those.
type Sums struct {
	Lost     int     `json:"lost"`
	Repaired int     `json:"repaired"`
	Back     int     `json:"back" doc:"Of those lost, back to the pot"`
	Planned  float64 `json:"planned" doc:"Minutes of hands that were reckoned"`
	Took     float64 `json:"took,omitempty" doc:"Minutes of hands that it took, as far as they are known"`
}

// Step of a batch: of the formula, with all of its rounds.
type Step struct {
	Step ident.Step `json:"step"`
	Name string     `json:"name"`
	Sums
	ByHand bool       `json:"byHand" doc:"Its minutes were said by a person"`
	Done   *time.Time `json:"done,omitempty"`
	Unfit  *int       `json:"unfit,omitempty" doc:"Of what was bought, not fit to use"`
}

// Bowl of a batch.
type Bowl struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name"`
	Result  string    `json:"result" enum:",good,poor"`
	Remains *float64  `json:"remains,omitempty" doc:"g that were left in it"`
	Curve   []Point   `json:"curve,omitempty" doc:"°C by s since it was begun"`

	day    string
	mass   float64 // g that were put in, later ones too
	dipped int
}

// Point of a curve.
type Point struct {
	At    float64 `json:"at"`
	Value float64 `json:"value"`
}

// Page of the logbook.
type Page struct {
	Batches []Batch `json:"batches"`
	More    bool    `json:"more" doc:"There are older ones"`
}

// most batches at a time.
const most = 100

// Which of them.
type Which struct {
	Treat  string `query:"treat" format:"uuid" doc:"Of this treat only"`
	Day    string `query:"day" format:"date" doc:"On which something of it was done"`
	Find   string `query:"find" maxLength:"100" doc:"In the names of treats and customers, in notes"`
	Before string `query:"before" format:"date" doc:"Only those that were done earlier"`
	Limit  int    `query:"limit" minimum:"0" maximum:"100"`

	batch uuid.UUID // only this one
}

func (l *Logbook) list(ctx context.Context, in *Which) (*struct{ Body Page }, error) {
	var page Page
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		limit := in.Limit
		if limit == 0 {
			limit = most
		}
		page.Batches, err = l.read(ctx, tx, in, limit+1)
		if page.More = len(page.Batches) > limit; page.More {
			page.Batches = page.Batches[:limit]
		}
		return err
	})
	return &struct{ Body Page }{page}, err
}
