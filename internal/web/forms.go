package web

import (
	"context"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

type formsOut struct{ Body formsBody }

type formsBody struct {
	Model  []strict.FormField `json:"model" doc:"in the order of a leaflet"`
	Item   []strict.FormField `json:"item"`
	Person []strict.FormField `json:"person"`
	// Classes say which parts a model of each has.
	Classes []classForm `json:"classes"`
}

type classForm struct {
	Class gear.Class `json:"class"`
	Words string     `json:"words"`
	Needs []string   `json:"needs"`
	May   []string   `json:"may"`
}

// forms gives what the screens ask of a model, an item and a person.
func forms(context.Context, *struct{}) (*formsOut, error) {
	out := &formsOut{formsBody{Model: strict.Form[gear.Model](), Item: strict.Form[gear.Item](), Person: strict.Form[rig.Member]()}}
	for _, c := range gear.Classes() {
		needs, may := c.Parts()
		out.Body.Classes = append(out.Body.Classes, classForm{c, c.Words(), append([]string{}, needs...), append([]string{}, may...)})
	}
	return out, nil
}
