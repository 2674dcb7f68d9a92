package text

import (
	"io"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	jsonv1 "github.com/go-json-experiment/json/v1"

	"zestytin/core/reason"
)

// JSON writes v as encoding/json does, with a sentence for each reason in it and a word for each term. Where a reason
// stands in a map or an interface it is said as well.
func (w *Words) JSON(to io.Writer, v any) error {
	text, err := json.Marshal(v, w.options()) // at once: an answer that cannot be written is not begun
	if err != nil {
		return err
	}
	_, err = to.Write(append(text, '\n'))
	return err
}

func (w *Words) options() json.Options {
	w.once.Do(func() {
		said := []*json.Marshalers{
			json.MarshalToFunc(func(to *jsontext.Encoder,
				r reason.Reason) error {
				return to.WriteToken(jsontext.String(w.Say(r)))
			}),
			json.MarshalToFunc(func(to *jsontext.Encoder,
				v reason.Word) error {
				return to.WriteToken(jsontext.String(w.Word(v)))
			}),
			json.MarshalToFunc(func(to *jsontext.Encoder, v reason.Several) error {
				return to.WriteToken(jsontext.String(w.Several(v)))
			}),
			json.MarshalToFunc(func(to *jsontext.Encoder,
				t reason.Text) error {
				return to.WriteToken(jsontext.String(w.Tell(t)))
			}),
		}
		if w.NoMoney {
			said = append(said, json.MarshalToFunc(func(to *jsontext.Encoder, m reason.Paid) error {
				return json.MarshalEncode(to, m.Blank())
			}))
		}
		w.marshal = json.JoinOptions(jsonv1.DefaultOptionsV1(), jsontext.EscapeForHTML(false),
			json.WithMarshalers(json.JoinMarshalers(said...)))
	})
	return w.marshal
}
