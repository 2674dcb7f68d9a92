package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"

	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/internal/text"
)

// badInput is what the caller gave; the command ends with exit code 2.
type badInput struct{ error }

// makePlan reads a problem from in and writes its plan to out.
func makePlan(ctx context.Context, args []string, in io.Reader, out, says io.Writer) error {
	flags := flag.NewFlagSet("plan", flag.ContinueOnError)
	flags.SetOutput(says)
	effort := flags.Int("effort", 0,
		"how long to improve the plan, in moves; 0: as long as a fortnight's work deserves")
	progress := flags.Bool("progress", false, "tell on the standard error how far it is")
	if err := flags.Parse(args); errors.Is(err, flag.ErrHelp) {
		return nil
	} else if err != nil {
		return badInput{err}
	}
	if flags.NArg() > 0 {
		return badInput{fmt.Errorf(
			"there is no file to name: the problem comes from the standard input, as in zestytin plan < %s",
			flags.Arg(0))}
	}
	if *effort < 0 {
		return badInput{errors.New("the effort is negative: give a number of moves, or leave it out")}
	}
	text, err := io.ReadAll(in)
	if err != nil {
		return err
	}
	problem, err := plan.Read(text)
	if err != nil {
		return sentence(err)
	}
	o := plan.Options{Effort: *effort}
	if *progress {
		o.Progress = func(done, total int) { fmt.Fprintf(says, "%d of %d moves\n", done, total) }
	}
	made, err := plan.Make(ctx, problem, o)
	if err != nil {
		return sentence(err)
	}
	if text, err = plan.Write(made); err == nil {
		_, err = out.Write(text)
	}
	return err
}

// sentence says the first fault of an input, with its path, and how many others there are.
func sentence(err error) error {
	var faults *invalid.Error
	if !errors.As(err, &faults) {
		return err
	}
	first := faults.Fields[0]
	says := text.Of(nil).Error(first.Err)
	if first.Path != "" {
		says = first.Path + ": " + says
	}
	if more := len(faults.Fields) - 1; more == 1 {
		says += " There is one more fault."
	} else if more > 1 {
		says += fmt.Sprintf(" There are %d more faults.", more)
	}
	return badInput{errors.New(says)}
}
