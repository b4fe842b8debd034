package web

import (
	"context"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

type formsOut struct{ Body formsBody }

type formsBody struct {
	Model  []strict.FormField `json:"model" doc:"in the order of a leaflet"`
	Item   []strict.FormField `json:"item"`
	Person []strict.FormField `json:"person"`
	// Preplan is what is asked of a site.
	Preplan []strict.FormField `json:"preplan"`
	// Classes say which parts a model of each has.
	Classes []classForm `json:"classes"`
	// Silences say of a field of a model, by its path, what is not judged while it is empty.
	Silences map[string][]string `json:"silences" doc:"by the path of a field of a model: when the rules fire that say nothing while it is left empty"`
}

type classForm struct {
	Class gear.Class `json:"class"`
	Words string     `json:"words"`
	Needs []string   `json:"needs"`
	May   []string   `json:"may"`
}

// forms gives what the screens ask of a model, an item, a person and a site.
func forms(context.Context, *struct{}) (*formsOut, error) {
	out := &formsOut{Body: formsBody{
		Model: worded(inOrder(strict.Form[gear.Model]()), ""), Item: worded(strict.Form[gear.Item](), ""),
		Person: worded(strict.Form[rig.Member](), ""), Preplan: worded(strict.Form[callout.Preplan](), ""),
	}}
	fires := map[string]string{}
	for _, r := range fit.Rules {
		fires[r.ID] = r.Fires
	}
	out.Body.Silences = make(map[string][]string, len(gear.Silences))
	for path, rules := range gear.Silences {
		for _, rule := range rules {
			out.Body.Silences[path] = append(out.Body.Silences[path], fires[rule])
		}
	}
	for _, c := range gear.Classes() {
		needs, may := c.Parts()
		out.Body.Classes = append(out.Body.Classes, classForm{c, c.Words(), append([]string{}, needs...), append([]string{}, may...)})
	}
	return out, nil
}
