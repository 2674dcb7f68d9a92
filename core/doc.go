// Package core is the rules of the job: pure computation without input, output, clock, database or goroutines. Its packages
// know nothing above them.
package core
