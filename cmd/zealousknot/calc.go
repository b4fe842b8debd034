package main

import (
	"encoding/json"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/web"
)

type calcCommand struct {
	Name string `arg:"" help:"What to compute: ${figures}."`
}

// Run reads one JSON object and writes one. What is refused is reported as the API
// tells it: an RFC 9457 problem.
func (c *calcCommand) Run(s streams) error {
	answer, err := c.answer(s)
	if err != nil {
		return refusal(err)
	}
	text, err := json.Marshal(answer)
	if err != nil {
		return err
	}
	_, err = s.out.Write(append(text, '\n'))
	return err
}

func (c *calcCommand) answer(s streams) (*calc.Answer, error) {
	figure := calc.Find(c.Name)
	if figure == nil {
		return nil, &strict.Error{Faults: []strict.Fault{{Detail: "no figure " + strconv.Quote(c.Name) + "; there are " + calc.Names()}}}
	}
	data, err := readInput("-", s.in)
	if err != nil {
		return nil, err
	}
	return figure.Run(data)
}

// refusal is bad input as a problem on standard error.
func refusal(err error) error {
	var refused *strict.Error
	if !errors.As(err, &refused) {
		return err
	}
	var b strings.Builder
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	if err := e.Encode(web.NewProblem(http.StatusUnprocessableEntity, "the input was refused", refused.Faults...)); err != nil {
		return err
	}
	return &exit{exitBadInput, strings.TrimSpace(b.String())}
}
