package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"time"

	events "zealousknot/internal/core/run"
	"zealousknot/internal/standin"
)

type standinCommand struct {
	Device   string  `arg:"" enum:"load-cell,anemometer" help:"What to stand in for: load-cell or anemometer."`
	To       string  `help:"Address of the run's readings; without it they are printed." placeholder:"URL"`
	Token    string  `help:"Device token that was made on the run's page."`
	Scenario string  `help:"descent, slip or haul of a load-cell; gusty or calm of an anemometer."`
	Channel  string  `help:"Channel; of a load-cell main.force, of an anemometer gust."`
	Seed     uint64  `help:"The same seed sends the same readings." default:"1"`
	Rate     float64 `help:"Readings a second." default:"10"`
	Speed    float64 `help:"How many times as fast as they would come; 0: at once." default:"1"`
	Seconds  float64 `help:"How long." default:"60"`
	Mass     float64 `help:"Mass on a load-cell, kg." default:"100"`
	Slip     float64 `help:"Seconds until it slips." default:"20"`
}

// Run sends or prints. Exit 0: all was taken; 2: bad input, or a line was refused; 3: no answer.
func (c *standinCommand) Run(ctx context.Context, s streams) error {
	p := c.plan()
	if words := p.Validate(); words != "" {
		return &exit{exitBadInput, words}
	}
	if c.Speed < 0 {
		return &exit{exitBadInput, "--speed: 0 or more"}
	}
	// What lies in the past by the time the last is sent is so by every clock.
	from := time.Now().Truncate(time.Second)
	list := p.Make(from)
	if c.To == "" {
		return printReadings(s.out, list)
	}
	fmt.Fprintf(s.err, "EXERCISE: readings of a stand-in, seed %d\n", c.Seed)
	each := max(1, min(events.MostLines, int(c.Rate)))
	for len(list) > 0 {
		n := min(each, len(list))
		if err := c.send(ctx, list[:n]); err != nil {
			return err
		}
		list = list[n:]
		if err := c.pause(ctx, float64(n)/c.Rate); err != nil {
			return err
		}
	}
	return nil
}

func (c *standinCommand) plan() *standin.Plan {
	p := &standin.Plan{Device: c.Device, Scenario: c.Scenario, Channel: c.Channel, Seed: c.Seed, RateHz: c.Rate, Seconds: c.Seconds, MassKg: c.Mass, SlipS: c.Slip}
	if p.Scenario == "" {
		p.Scenario = standin.Scenarios[c.Device][0]
	}
	if p.Channel == "" {
		p.Channel = map[string]string{"load-cell": "main.force", "anemometer": "gust"}[c.Device]
	}
	return p
}

func printReadings(w io.Writer, list []events.Reading) error {
	e := json.NewEncoder(w)
	for i := range list {
		if err := e.Encode(&list[i]); err != nil {
			return err
		}
	}
	return nil
}

// pause waits as long as the readings lasted.
func (c *standinCommand) pause(ctx context.Context, lasted float64) error {
	if c.Speed == 0 {
		return nil
	}
	select {
	case <-ctx.Done():
		return ctx.Err()
	case <-time.After(time.Duration(lasted / c.Speed * float64(time.Second))):
		return nil
	}
}

func (c *standinCommand) send(ctx context.Context, list []events.Reading) error {
	var body bytes.Buffer
	if err := printReadings(&body, list); err != nil {
		return err
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.To, &body)
	if err != nil {
		return &exit{exitBadInput, "--to: " + err.Error()}
	}
	r.Header.Set("Authorization", "Bearer "+c.Token)
	r.Header.Set("Content-Type", "application/x-ndjson")
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return &exit{exitUnanswered, err.Error()}
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(io.LimitReader(answer.Body, 1<<20))
	if err != nil {
		return &exit{exitUnanswered, err.Error()}
	}
	var out struct {
		Refused []events.LineFault `json:"refused"`
	}
	switch {
	case answer.StatusCode != http.StatusOK:
		return &exit{exitBadInput, fmt.Sprintf("%s: %s", answer.Status, text)}
	case json.Unmarshal(text, &out) != nil:
		return &exit{exitUnanswered, "no answer that can be read"}
	case len(out.Refused) > 0:
		return &exit{exitBadInput, fmt.Sprintf("line %d was refused: %s", out.Refused[0].Line, out.Refused[0].Detail)}
	}
	return nil
}
