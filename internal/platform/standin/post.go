package standin

import (
	"context"
	"strings"
	"sync"

	"zestytin/internal/platform/post"
)

// Post stands in for a mail server and for a service for text messages: what is sent goes nowhere, and can be read in
// the outbox. It behaves as others do: nobody lives at nobody.example, busy.example takes a letter the second time, and
// lost.example breaks off before it has said whether it has one.
type Post struct {
	mu    sync.Mutex
	tried map[string]bool
}

// Sender is where letters come from.
func (*Post) Sender() string { return "post@lakeside.example" }

// Pretends is true: nothing of it arrives.
func (*Post) Pretends() bool { return true }

// Send a letter nowhere.
func (p *Post) Send(_ context.Context, l post.Letter) post.Result {
	p.mu.Lock()
	defer p.mu.Unlock()
	_, at, _ := strings.Cut(l.To, "@")
	switch {
	case at == "nobody.example":
		return post.Result{Outcome: post.Refused, Said: "550 5.1.1 no such mailbox"}
	case at == "lost.example":
		return post.Result{Outcome: post.Unsure, Said: "EOF"}
	case at == "busy.example" && !p.tried[l.ID.String()]:
		if p.tried == nil {
			p.tried = map[string]bool{}
		}
		p.tried[l.ID.String()] = true
		return post.Result{Outcome: post.Later, Said: "421 4.3.2 too busy"}
	}
	return post.Result{Outcome: post.Sent}
}

// Text is sent nowhere either.
func (p *Post) Text(ctx context.Context, to, body string) post.Result {
	return p.Send(ctx, post.Letter{To: to, Body: body})
}
