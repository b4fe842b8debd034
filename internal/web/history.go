package web

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// history is an item with its past, as it goes from one team to another: a guest's.
type history struct {
	Format  string          `json:"format" enum:"item-history"`
	Version int             `json:"version" minimum:"1" maximum:"1"`
	Team    string          `json:"team" minLength:"1" maxLength:"80" doc:"whose records they are"`
	Model   gear.Model      `json:"model"`
	Item    gear.Item       `json:"item" doc:"with what happened to it; taken in, it says whose it is and by what paper it may be used"`
	Records []historyRecord `json:"records,omitempty" maxItems:"20000" doc:"what was recorded of it there, last first"`
}

// historyRecord is a record of another team: its words, and the seal by which that team
// finds it.
type historyRecord struct {
	Number int64  `json:"number"`
	At     string `json:"at"`
	By     string `json:"by" maxLength:"200"`
	Kind   string `json:"kind" maxLength:"60"`
	Says   string `json:"says" maxLength:"20000"`
	Seal   string `json:"seal" maxLength:"64"`
}

// registerHistory declares an item out and in.
func (c *Config) registerHistory(api huma.API) {
	o := operation(http.MethodGet, "item-history", "/items/{id}/history.json", "An item with its past, for another team")
	o.Responses = fileResponses("application/json")
	o.Responses["200"].Content["application/json"].Schema = api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[history](), true, "")
	huma.Register(api, o, ofKind("application/json", c.itemHistory))
	withBody(api, operation(http.MethodPost, "take-history", "/items/history", "Take in a guest's item with its past; its model too, if that is missing"), reflect.TypeFor[history](), c.takeHistory)
}

func (c *Config) itemHistory(ctx context.Context, in *idIn) (*fileOut, error) {
	k, err := c.known(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	team := who(ctx).Team
	h := history{Format: "item-history", Version: 1, Team: team.Name, Model: k.model.Unrevised(), Item: k.item.Unrevised()}
	named, err := c.titles(ctx, k.lines)
	if err != nil {
		return nil, failed(ctx, err)
	}
	rows := rowsOf(team, k.lines, named)
	for i, l := range k.lines {
		r := rows[len(rows)-1-i]
		h.Records = append(h.Records, historyRecord{l.Number, l.At.Format("2006-01-02T15:04:05Z07:00"), l.By, string(l.Says.Kind), r.Result, l.Seal})
	}
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetIndent("", " ")
	if err := e.Encode(h); err != nil {
		return nil, failed(ctx, err)
	}
	return attached(in.ID+"-history.json", &b), nil
}

// takeHistory adds the item as a guest's. What was recorded elsewhere stays the other team's:
// here stands what happened to it, and the file's hash.
func (c *Config) takeHistory(ctx context.Context, in *rawIn) (*rowsOut, error) {
	var h history
	faults := strict.Faults{}
	if strict.ReadWith(&faults, in.RawBody, &h) && h.Item.Guest == nil {
		faults.Addf("/item/guest", "missing: say by what paper it may be used, and whose it is")
	}
	if err := faults.Err(); err != nil {
		return nil, failed(ctx, err)
	}
	present, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	h.Item.Kit, h.Item.Model = "", h.Model.ID
	rows := drop.Store{Items: []gear.Item{h.Item.Unrevised()}}
	if m := gear.ModelsByID(present.Models)[h.Model.ID]; m == nil {
		h.Model.Follows = ""
		rows.Models = []gear.Model{h.Model.Unrevised()}
	} else if m.Class != h.Model.Class {
		return nil, NewProblem(http.StatusConflict, fmt.Sprintf("the model %q is a %s here; nothing was changed", m.ID, m.Class.Words()))
	}
	text, err := json.Marshal(rows)
	if err != nil {
		return nil, failed(ctx, err)
	}
	g, err := drop.ReadStore(text, present)
	if err != nil {
		return nil, failed(ctx, err)
	}
	put := store.Put{Reason: fmt.Sprintf("a guest's item with its history from %s: %d records there, file's SHA-256 %x", h.Team, len(h.Records), sha256.Sum256(in.RawBody))}
	out, plans, err := c.Store.PutGear(ctx, who(ctx).Team, signer(ctx), g, put)
	return answerRows(ctx, out, plans, err)
}
