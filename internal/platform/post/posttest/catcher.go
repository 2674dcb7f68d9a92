// Package posttest is a mail server of the tests' own, which behaves as it is told: it takes letters, refuses them,
// asks to come back, never answers, or breaks off before it has said that it has one.
package posttest

import (
	"bytes"
	"errors"
	"io"
	"net"
	"net/mail"
	"sync"
	"testing"

	"github.com/emersion/go-smtp"
)

// Letter that was taken.
type Letter struct {
	From string // of the envelope
	To   []string
	mail.Message
	Text string
}

// Catcher of letters.
type Catcher struct {
	URL string

	mu      sync.Mutex
	letters []Letter
	refuse  *smtp.SMTPError // at RCPT
	breaks  bool            // the connection ends after the letter, without an answer
}

// New catcher on a port of its own, until the test ends.
func New(t testing.TB) *Catcher {
	t.Helper()
	c := &Catcher{}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	s := smtp.NewServer(smtp.BackendFunc(func(conn *smtp.Conn) (smtp.Session, error) {
		return &session{c: c, conn: conn.Conn()}, nil
	}))
	s.Domain, s.AllowInsecureAuth = "catcher.example", true
	go func() { _ = s.Serve(l) }()
	t.Cleanup(func() { _ = s.Close() })
	c.URL = "smtp-plain://" + l.Addr().String()
	return c
}

// Silent is a server that takes a connection and never says anything.
func Silent(t testing.TB) (url string) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = l.Close() })
	go func() {
		for {
			conn, err := l.Accept()
			if err != nil {
				return
			}
			t.Cleanup(func() { _ = conn.Close() })
		}
	}()
	return "smtp-plain://" + l.Addr().String()
}

// Letters that came.
func (c *Catcher) Letters() []Letter {
	c.mu.Lock()
	defer c.mu.Unlock()
	return append([]Letter{}, c.letters...)
}

// Refuse all recipients with a code from now on; 0: none.
func (c *Catcher) Refuse(code int, says string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.refuse = nil; code != 0 {
		c.refuse = &smtp.SMTPError{Code: code, EnhancedCode: smtp.EnhancedCode{code / 100, 1, 1}, Message: says}
	}
}

// Break off after a letter has come, from now on, before it is said that it has.
func (c *Catcher) Break() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.breaks = true
}

type session struct {
	c    *Catcher
	conn net.Conn
	from string
	to   []string
}

func (s *session) Mail(from string, _ *smtp.MailOptions) error { s.from = from; return nil }
func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	s.c.mu.Lock()
	defer s.c.mu.Unlock()
	if s.c.refuse != nil {
		return s.c.refuse
	}
	s.to = append(s.to, to)
	return nil
}
func (s *session) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return err
	}
	text, err := io.ReadAll(m.Body)
	if err != nil {
		return err
	}
	s.c.mu.Lock()
	defer s.c.mu.Unlock()
	s.c.letters = append(s.c.letters, Letter{s.from, s.to, *m, string(text)})
	if s.c.breaks {
		_ = s.conn.Close()
		return errors.New("broken off")
	}
	return nil
}
func (s *session) Reset()        { s.to = nil }
func (s *session) Logout() error { return nil }
