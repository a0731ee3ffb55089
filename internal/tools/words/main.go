// Command words gathers every message of the program into the catalogue from which a
// language is made, internal/lang/catalogue.json:
//
//	go run ./internal/tools/words          writes it
//	go run ./internal/tools/words -check   tells what is missing in it, or too much
//
// A message in Go is a constant of the type lang.Message, found by its type wherever it
// stands; a message in a template is its text; a message of the page's script is what its
// function t is called with.
package main

import (
	"bytes"
	"flag"
	"fmt"
	"log"
	"os"
)

const catalogue = "internal/lang/catalogue.json"

func main() {
	log.SetFlags(0)
	check := flag.Bool("check", false, "only tell whether the catalogue is complete")
	flag.Parse()
	found, faults, err := Gather(".")
	if err != nil {
		log.Fatal(err)
	}
	for _, f := range faults {
		log.Print(f)
	}
	text, err := found.JSON()
	if err != nil {
		log.Fatal(err)
	}
	if *check {
		kept, err := os.ReadFile(catalogue)
		if err != nil || !bytes.Equal(kept, text) {
			log.Fatal("the catalogue is not what the program says: make words")
		}
	} else if err := os.WriteFile(catalogue, text, 0o644); err != nil {
		log.Fatal(err)
	}
	if len(faults) > 0 {
		os.Exit(1)
	}
	fmt.Printf("%d messages, %d plurals, %d layouts of dates\n", len(found.Messages), len(found.Plurals), len(found.Layouts))
}
