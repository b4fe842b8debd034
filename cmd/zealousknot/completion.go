package main

import (
	"fmt"
	"slices"
	"strings"

	"github.com/alecthomas/kong"
)

type completionCommand struct{}

// Run prints what makes bash complete commands and their flags.
func (completionCommand) Run(k *kong.Kong, s streams) error {
	var names, cases []string
	for _, c := range k.Model.Children {
		flags := []string{"--help"}
		for _, f := range c.Flags {
			flags = append(flags, "--"+f.Name)
		}
		slices.Sort(flags)
		names = append(names, c.Name)
		cases = append(cases, fmt.Sprintf("    %s) words=%q ;;", c.Name, strings.Join(flags, " ")))
	}
	_, err := fmt.Fprintf(s.out, `# bash completion of zealousknot: source this, or put it into /etc/bash_completion.d
_zealousknot() {
  local words
  case ${COMP_WORDS[1]} in
%s
    *) words="" ;;
  esac
  (( COMP_CWORD == 1 )) && words="%s --help --version"
  COMPREPLY=($(compgen -W "$words" -- "${COMP_WORDS[COMP_CWORD]}"))
}
complete -o default -F _zealousknot zealousknot
`, strings.Join(cases, "\n"), strings.Join(names, " "))
	return err
}
