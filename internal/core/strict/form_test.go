package strict

import (
	"encoding/json"
	"testing"
)

// A form has every field that is read, in its struct's order, with the limits by which it
// is read.
func TestForm(t *testing.T) {
	type part struct {
		MinMM float64 `json:"min_mm" exclusiveMinimum:"0"`
	}
	type thing struct {
		ID      string   `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
		Kind    string   `json:"kind,omitempty" enum:"cam,wheel" doc:"which of them"`
		On      string   `json:"made_on,omitempty" format:"date"`
		SpeedMS float64  `json:"max_speed_m_s,omitempty" minimum:"0" maximum:"10"`
		Parts   []part   `json:"parts,omitempty"`
		One     *part    `json:"one,omitempty"`
		Notes   []string `json:"notes,omitempty" maxLength:"40"`
		Count   int      `json:"count,omitempty"`
		Parks   bool     `json:"parks,omitempty"`
		hidden  int
		NotRead int `json:"-"`
	}
	_ = thing{hidden: 1}.hidden
	got, err := json.Marshal(Form[thing]())
	if err != nil {
		t.Fatal(err)
	}
	const min = `[{"name":"min_mm","words":"min","unit":"mm","kind":"number","required":true,"above":0}]`
	want := `[{"name":"id","words":"id","kind":"text","required":true,"longest":2000,"id":true},` +
		`{"name":"kind","words":"kind","kind":"choice","doc":"which of them","choices":["cam","wheel"]},` +
		`{"name":"made_on","words":"made on","kind":"date"},` +
		`{"name":"max_speed_m_s","words":"max speed","unit":"m/s","kind":"number","minimum":0,"maximum":10},` +
		`{"name":"parts","words":"parts","kind":"list","of":"object","fields":` + min + `},` +
		`{"name":"one","words":"one","kind":"object","fields":` + min + `},` +
		`{"name":"notes","words":"notes","kind":"list","of":"text","longest":40},` +
		`{"name":"count","words":"count","kind":"whole"},{"name":"parks","words":"parks","kind":"flag"}]`
	if string(got) != want {
		t.Errorf("got  %s\nwant %s", got, want)
	}
}
