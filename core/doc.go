// Package core is the rules of the job: pure computation without input, output, clock, database or goroutines. Its
// packages know nothing above them. What they compute, by which formula and from which source, stands in docs/rules.md;
// comments name its numbers: rules 4.3.
package core
