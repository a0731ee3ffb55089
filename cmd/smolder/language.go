package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"smolder/internal/lang"
	"smolder/internal/lang/langtest"
	"smolder/languages"
)

// languagesFlag names the folder of languages besides English.
func languagesFlag(cmd *cobra.Command) *string {
	return cmd.Flags().String("languages", os.Getenv("SMOLDER_LANGUAGES"),
		"folder with a file for each language besides English (smolder language new), in place of those that ship with it; SMOLDER_LANGUAGES in the environment says the same")
}

// languagesIn reads the languages of a folder, and says in the log what each lacks.
func languagesIn(dir string) (*lang.Languages, error) {
	if dir == "" { // those that ship with it, which a test holds complete
		return lang.Gather(languages.Files)
	}
	all, err := lang.Gather(os.DirFS(dir))
	if err != nil {
		return nil, err
	}
	if len(all.All()) == 0 {
		return nil, fmt.Errorf("there is no language in %s; a file such as de.json would do", dir)
	}
	catalogue, err := lang.Catalogued()
	for _, l := range all.All() {
		if n := len(catalogue.Lacks(l)); n > 0 {
			logger().Warn("a language lacks messages, which are shown in English", "language", l.Name, "lacks", n)
		}
	}
	return all, err
}

func languageCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "language", Short: "Make a language, and see what it lacks", Args: cobra.NoArgs}
	cmd.AddCommand(
		&cobra.Command{Use: "new TAG NAME", Short: "Print a file with every message, to be filled in: smolder language new de Deutsch > de.json",
			Args: cobra.ExactArgs(2), RunE: func(cmd *cobra.Command, args []string) error { return newLanguage(cmd.OutOrStdout(), args[0], args[1]) }},
		&cobra.Command{Use: "check FILE", Short: "Say what a language lacks", Args: cobra.ExactArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			return checkLanguage(cmd.OutOrStdout(), args[0])
		}},
		&cobra.Command{Use: "brackets", Short: "Print a language in which every word stands in brackets, to see where each is shown", Args: cobra.NoArgs,
			RunE: func(cmd *cobra.Command, _ []string) error {
				catalogue, err := lang.Catalogued()
				if err != nil {
					return err
				}
				file, err := langtest.File(catalogue)
				if err == nil {
					_, err = cmd.OutOrStdout().Write(append(file, '\n'))
				}
				return err
			}})
	return cmd
}

// newLanguage writes a language of which nothing is translated yet; one that is there already
// can be laid over it.
func newLanguage(to io.Writer, tag, name string) error {
	catalogue, err := lang.Catalogued()
	if err != nil {
		return err
	}
	messages, layouts, plurals := map[lang.Message]string{}, map[lang.Message]string{}, map[lang.Message]map[string]string{}
	for m := range catalogue.Messages {
		messages[m] = ""
	}
	for m := range catalogue.Layouts {
		layouts[m] = m.English()
	}
	for m := range catalogue.Plurals {
		plurals[m] = map[string]string{"one": "", "other": ""}
	}
	e := json.NewEncoder(to)
	e.SetEscapeHTML(false)
	e.SetIndent("", " ")
	return e.Encode(map[string]any{"tag": tag, "name": name, "messages": messages, "layouts": layouts, "plurals": plurals})
}

func checkLanguage(to io.Writer, file string) error {
	f, err := os.Open(file)
	if err != nil {
		return err
	}
	defer f.Close()
	l, err := lang.Read(f)
	if err != nil {
		return err
	}
	catalogue, err := lang.Catalogued()
	if err != nil {
		return err
	}
	lacks := catalogue.Lacks(l)
	for _, m := range lacks {
		if _, err := fmt.Fprintf(to, "%q\n", m); err != nil {
			return err
		}
	}
	if len(lacks) > 0 {
		return errors.New(l.Name + " lacks these messages; they are shown in English")
	}
	_, err = fmt.Fprintln(to, l.Name, "is complete.")
	return err
}
