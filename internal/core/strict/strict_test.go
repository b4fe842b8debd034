package strict

import (
	"encoding/json"
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"
)

type inner struct {
	Kind string  `json:"kind" enum:"cam,wheel"`
	Mass float64 `json:"mass_kg" exclusiveMinimum:"0" maximum:"400"`
}

type outer struct {
	ID    string             `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	On    string             `json:"on,omitempty" format:"date"`
	Count int                `json:"count,omitempty" minimum:"0" maximum:"9"`
	Open  bool               `json:"open,omitempty"`
	One   *inner             `json:"one,omitempty"`
	Many  []inner            `json:"many,omitempty" maxItems:"3"`
	Words []string           `json:"words,omitempty" maxLength:"5"`
	By    map[string]float64 `json:"by,omitempty"`
}

func TestRead(t *testing.T) {
	const text = ` {"id":"d-1","on":"2026-03-14","count":3,"open":true,"one":{"kind":"cam","mass_kg":8.5e1},
		"many":[{"kind":"wheel","mass_kg":1}],"words":["a\u00e9\n"],"by":{"A":-0.5}} `
	var got outer
	if err := Read([]byte(text), &got); err != nil {
		t.Fatal(err)
	}
	var want outer
	if err := json.Unmarshal([]byte(text), &want); err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("got %+v, want %+v", got, want)
	}
}

// Every refusal names the place and says why.
func TestReadRefuses(t *testing.T) {
	for name, c := range map[string]struct{ text, pointer, detail string }{
		"unknown field":      {`{"id":"a","what":1}`, "/what", "unknown field"},
		"wrong unit":         {`{"id":"a","one":{"kind":"cam","mass_lb":1,"mass_kg":1}}`, "/one/mass_lb", "given as mass_kg"},
		"no unit":            {`{"id":"a","one":{"kind":"cam","mass":1,"mass_kg":1}}`, "/one/mass", "given as mass_kg"},
		"spelling":           {`{"id":"a","OPEN":true}`, "/OPEN", "written open"},
		"missing":            {`{"many":[{"kind":"cam"}],"id":"a"}`, "/many/0/mass_kg", "missing"},
		"twice":              {`{"id":"a","id":"b"}`, "/id", "twice"},
		"twice in a table":   {`{"id":"a","by":{"A":1,"A":2}}`, "/by/A", "twice"},
		"text for a figure":  {`{"id":"a","one":{"kind":"cam","mass_kg":"85 kg"}}`, "/one/mass_kg", "not text"},
		"figure for text":    {`{"id":7}`, "/id", "must be text"},
		"null":               {`{"id":null}`, "/id", "leave the field out"},
		"not a number":       {`{"id":"a","count":NaN}`, "/count", "NaN is not a figure"},
		"infinite":           {`{"id":"a","one":{"kind":"cam","mass_kg":1e999}}`, "/one/mass_kg", "too large"},
		"huge":               {`{"id":"a","by":{"x":1e9}}`, "/by/x", "too large"},
		"leading zero":       {`{"id":"a","count":01}`, "/count", "not a number as JSON"},
		"whole":              {`{"id":"a","count":1.5}`, "/count", "whole number"},
		"above maximum":      {`{"id":"a","count":10}`, "/count", "9 or less"},
		"exclusive minimum":  {`{"id":"a","many":[{"kind":"cam","mass_kg":0}]}`, "/many/0/mass_kg", "more than 0"},
		"enum":               {`{"id":"a","one":{"kind":"rope","mass_kg":1}}`, "/one/kind", "not one of cam, wheel"},
		"date":               {`{"id":"a","on":"2026-02-30"}`, "/on", "not a date"},
		"id":                 {`{"id":"A b"}`, "/id", "not an id"},
		"too long":           {`{"id":"a","words":["abcdef"]}`, "/words/0", "longer than 5"},
		"too many":           {`{"id":"a","words":[],"many":[{"kind":"cam","mass_kg":1},{"kind":"cam","mass_kg":1},{"kind":"cam","mass_kg":1},{}]}`, "/many", "more than 3"},
		"control character":  {`{"id":"a","words":["\u0000"]}`, "/words/0", "control character"},
		"not UTF-8":          {"{\"id\":\"\xff\"}", "/id", "UTF-8"},
		"deep":               {`{"x":` + strings.Repeat(`[`, 100) + strings.Repeat(`]`, 100) + `}`, "/x", "nested deeper than"},
		"cut off":            {`{"id":"a"`, "", "comma or }"},
		"empty":              {``, "", "too early"},
		"trailing text":      {`{"id":"a"} x`, "", "after the end"},
		"five megabytes":     {`{"id":"a","words":["` + strings.Repeat("x", 5<<20) + `"]}`, "", "too large"},
		"slash in a pointer": {`{"id":"a","a/b~":1}`, "/a~1b~0", "unknown field"},
	} {
		t.Run(name, func(t *testing.T) {
			var refused *Error
			if err := Read([]byte(c.text), new(outer)); !errors.As(err, &refused) {
				t.Fatalf("got %v, want an *Error", err)
			}
			if !slices.ContainsFunc(refused.Faults, func(f Fault) bool { return f.Pointer == c.pointer && strings.Contains(f.Detail, c.detail) }) {
				t.Errorf("got %v, want %q: …%q…", refused, c.pointer, c.detail)
			}
		})
	}
}

// Faults are gathered, not only the first one, and not without end.
func TestReadGathers(t *testing.T) {
	var refused *Error
	errors.As(Read([]byte(`{"count":-1,"on":"x","z":[1,{}]}`), new(outer)), &refused)
	if len(refused.Faults) != 4 {
		t.Errorf("got %v, want 4 faults", refused)
	}
	many := `{"id":"a"` + strings.Repeat(`,"z":1`, 1000) + `}`
	errors.As(Read([]byte(many), new(outer)), &refused)
	if len(refused.Faults) != MaxFaults {
		t.Errorf("got %d faults, want %d", len(refused.Faults), MaxFaults)
	}
}

// FuzzRead holds the reader to encoding/json: what it takes is JSON and means
// the same there; what it refuses it says something about.
func FuzzRead(f *testing.F) {
	f.Add([]byte(`{"id":"d-1","on":"2026-03-14","count":3,"one":{"kind":"cam","mass_kg":8.5e1},"many":[{"kind":"wheel","mass_kg":1}]}`))
	f.Add([]byte(`{"id":"a","by":{"A":1,"\u0041":2}}`))
	f.Add([]byte(`{"x":[[[[{"y":nul]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var got, want outer
		err := Read(data, &got)
		if err != nil {
			var refused *Error
			if !errors.As(err, &refused) || len(refused.Faults) == 0 || refused.Faults[0].Detail == "" {
				t.Fatalf("refused without a reason: %v", err)
			}
			return
		}
		if err := json.Unmarshal(data, &want); err != nil {
			t.Fatalf("taken, but encoding/json says %v", err)
		}
		if a, b := mustJSON(t, got), mustJSON(t, want); a != b {
			t.Fatalf("read as %s, encoding/json reads %s", a, b)
		}
	})
}

func mustJSON(t *testing.T, v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}
