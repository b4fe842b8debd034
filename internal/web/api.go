package web

import (
	"cmp"
	"context"
	"crypto/rand"
	"net/http"
	"net/url"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// most is how many drops a list gives at most.
const most = 200

// Register declares every operation of the API. It is the one place where they
// are declared: the OpenAPI document and the front end's types come from it.
func Register(api huma.API, c *Config) {
	api.UseMiddleware(allow(api))
	c.registerPeople(api)
	c.registerRecords(api)
	c.registerQuestions(api)
	c.registerSheets(api)
	c.registerFiles(api)
	c.registerArchive(api)
	c.registerCare(api)
	c.registerPrints(api)
	c.registerHistory(api)
	c.registerDays(api)
	c.registerRuns(api)
	c.registerCallouts(api)
	c.registerPractice(api)
	c.registerJoint(api)
	get(api, "gear", "/gear", "All models, items and kits of the team's store", c.gear)
	get(api, "kits", "/kits", "Kits held against what belongs in them", c.kits)
	get(api, "item-life", "/items/{id}/life", "The life of an item: its days, past and to come, and where it is planned", c.itemLife)
	get(api, "people", "/people", "Everybody of the team", c.people)
	get(api, "forms", "/forms", "What screens ask of a model, an item and a person, by the tags they are read by", forms)
	get(api, "comparison", "/comparison", "Two or three models side by side, differences first", c.comparison)
	get(api, "policy", "/policy", "The team's policy: factors, ceilings and the tables that figures use", c.policy)
	get(api, "drops", "/drops", "The team's drops, last changed first", c.drops)
	get(api, "drop", "/drops/{id}", "A drop, with the store's present record of its items", c.drop)

	document := reflect.TypeFor[drop.Document]()
	add := operation(http.MethodPost, "add-drop", "/drops", "Keep a new drop")
	add.DefaultStatus = http.StatusCreated
	withBody(api, add, document, c.addDrop)
	withBody(api, operation(http.MethodPut, "save-drop", "/drops/{id}", "Replace a drop, if nobody else has"), document, c.saveDrop)
	withBody(api, operation(http.MethodPut, "put-policy", "/policy", "Replace the team's policy, if nobody else has"), reflect.TypeFor[policy.Policy](), c.putPolicy)
	withBody(api, operation(http.MethodPut, "set-time-zone", "/team/time-zone", "Change the zone whose days and hours are the team's"), reflect.TypeFor[zoneBody](), c.setTimeZone)
	withBody(api, operation(http.MethodPut, "put-gear", "/gear", "Add models, items and kits to the store, or change them; all or none, or the right ones only"),
		reflect.TypeFor[drop.Store](), c.putGear)
	withBody(api, operation(http.MethodPut, "put-people", "/people", "Add people to the team, or change them; all or none, or the right ones only"),
		reflect.TypeFor[peopleBody](), c.putPeople)
	huma.Register(api, operation(http.MethodDelete, "remove-drop", "/drops/{id}", "Remove a drop, if nobody has changed it"), c.removeDrop)
	get(api, "drop-versions", "/drops/{id}/versions", "Every version of a drop that was saved, last first, also of one that was removed", c.versions)
	get(api, "drop-version", "/drops/{id}/versions/{version}", "A drop as it was saved then, with the store's present record of its items", c.version)
	get(api, "drop-changes", "/drops/{id}/versions/{version}/changes", "What changed in a drop from an earlier version to this one, in words", c.dropChanges)
	get(api, "removed-drops", "/removed-drops", "The drops that were removed, last changed first", c.removedDrops)
	huma.Register(api, operation(http.MethodPost, "restore-drop", "/drops/{id}/versions/{version}", "Save an earlier version again, as the newest"), c.restore)
	if err := describe(api); err != nil {
		panic(err) // the declarations themselves are wrong
	}
}

// registerPeople declares signing in, teams and who is in them.
func (c *Config) registerPeople(api huma.API) {
	get(api, "session", "/session", "Who is signed in", c.session)
	post(api, "sign-in", "/session", "Sign in", reflect.TypeFor[signInBody](), c.signIn)
	huma.Register(api, operation(http.MethodDelete, "sign-out", "/session", "Sign out on this device"), c.signOut)
	withBody(api, operation(http.MethodPut, "switch-team", "/session/team", "Go over to another of one's teams"), reflect.TypeFor[switchBody](), c.switchTeam)
	withBody(api, operation(http.MethodPut, "change-password", "/session/password", "Change one's password; every other device is signed out"),
		reflect.TypeFor[passwordBody](), c.changePassword)
	c.registerPINs(api)
	get(api, "sign-ins", "/sign-ins", "The devices one is signed in on", c.signIns)
	huma.Register(api, operation(http.MethodDelete, "end-sign-in", "/sign-ins/{id}", "Sign out on another device"), c.endSignIn)
	get(api, "members", "/members", "Who may sign in to the team", c.members)
	withBody(api, operation(http.MethodPut, "set-member", "/members/{id}", "Change the roles of a member"), reflect.TypeFor[memberBody](), c.setMember)
	huma.Register(api, operation(http.MethodDelete, "remove-member", "/members/{id}", "Take a member out of the team; their records stand"), c.removeMember)
	get(api, "invitations", "/invitations", "Invitations that nobody has taken yet", c.invitations)
	post(api, "invite", "/invitations", "Invite somebody to the team", reflect.TypeFor[inviteBody](), c.invite)
	huma.Register(api, operation(http.MethodDelete, "remove-invitation", "/invitations/{id}", "Take an invitation back"), c.removeInvitation)
	post(api, "join", "/join", "Take an invitation: with a new account, or as who is signed in", reflect.TypeFor[joinBody](), c.join)
}

// registerRecords declares records, plans and their states, and the line that announces
// changes.
func (c *Config) registerRecords(api huma.API) {
	add := operation(http.MethodPost, "add-records", "/records", "Record checks and more, in order, each once")
	add.MaxBodyBytes = maxBatchBytes
	withBody(api, add, reflect.TypeFor[record.Batch](), c.addRecords)
	get(api, "records", "/records", "The records of a day or of an item, last first", c.records)
	get(api, "log", "/people/{id}/log", "A person's hours on rope and records", c.log)
	file(api, "log-csv", "/people/{id}/log.csv", "A person's records as CSV", "text/csv", c.logCSV)
	file(api, "sheet-pdf", "/drops/{id}/checks.pdf", "The check sheet of a drop as PDF", "application/pdf", c.sheetPDF)
	file(api, "sheet-csv", "/drops/{id}/checks.csv", "The checks of a drop as CSV", "text/csv", c.sheetCSV)
	get(api, "plan", "/drops/{id}/plan", "How the plan of a drop stands", c.plan)
	withBody(api, operation(http.MethodPut, "set-plan", "/drops/{id}/plan", "Set a plan to draft, checked or released"), reflect.TypeFor[planBody](), c.setPlan)
	c.registerChanges(api)
}

// operation is one of the API; it panics for one that has no right, since nobody
// would know who may do it.
func operation(method, id, path, summary string) huma.Operation {
	if _, ok := RightOf(id); !ok {
		panic("web: operation " + id + " has no right")
	}
	return huma.Operation{
		OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary, MaxBodyBytes: strict.MaxBytes, BodyReadTimeout: 15 * time.Second,
		Errors: []int{http.StatusUnauthorized, http.StatusForbidden, http.StatusNotFound, http.StatusConflict, http.StatusPreconditionFailed,
			http.StatusRequestEntityTooLarge, http.StatusUnprocessableEntity, http.StatusPreconditionRequired, http.StatusTooManyRequests, http.StatusInternalServerError, http.StatusServiceUnavailable},
	}
}

func get[I, O any](api huma.API, id, path, summary string, handler func(context.Context, *I) (*O, error)) {
	huma.Register(api, operation(http.MethodGet, id, path, summary), handler)
}

func post[I, O any](api huma.API, id, path, summary string, body reflect.Type, handler func(context.Context, *I) (*O, error)) {
	withBody(api, operation(http.MethodPost, id, path, summary), body, handler)
}

// withBody registers an operation whose body the core's strict reader reads, not
// huma, so that file, command and API refuse the same things in the same words.
func withBody[I, O any](api huma.API, o huma.Operation, body reflect.Type, handler func(context.Context, *I) (*O, error)) {
	withSchema(api, o, api.OpenAPI().Components.Schemas.Schema(body, true, ""), handler)
}

func withSchema[I, O any](api huma.API, o huma.Operation, body *huma.Schema, handler func(context.Context, *I) (*O, error)) {
	o.SkipValidateBody = true
	content := map[string]*huma.MediaType{"application/json": {Schema: body}}
	o.RequestBody = &huma.RequestBody{Required: true, Content: content}
	huma.Register(api, o, handler)
	// huma adds this for a body it hands over unread.
	delete(content, "application/octet-stream")
}

type gearOut struct {
	Body struct {
		Models []gear.Model `json:"models"`
		Items  []gear.Item  `json:"items"`
		Kits   []gear.Kit   `json:"kits,omitempty"`
	}
}

func (c *Config) gear(ctx context.Context, _ *struct{}) (*gearOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &gearOut{}
	out.Body.Models, out.Body.Items, out.Body.Kits = g.Models, g.Items, g.Kits
	return out, nil
}

// putGear adds or changes models and items. Items of a model that is refused are refused
// with it.
func (c *Config) putGear(ctx context.Context, in *rowsIn) (*rowsOut, error) {
	present, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	g, err := drop.ReadStore(in.RawBody, present)
	if g == nil {
		return nil, failed(ctx, err)
	}
	models, items, kits := newRight(err, "models"), newRight(err, "items"), newRight(err, "kits")
	put := store.Put{Reason: g.Reason, OnlyRight: in.OnlyRight, Try: in.DryRun}
	if err := rightEnough(err, &put, models, items, kits); err != nil {
		return nil, failed(ctx, err)
	}
	refused := map[string]bool{}
	g.Models = pick(models, "model", g.Models, &put, func(m *gear.Model) string { refused[m.ID] = true; return m.ID })
	for i := range g.Items {
		if refused[g.Items[i].Model] && len(items.faults[i]) == 0 {
			items.faults[i] = []strict.Fault{{Pointer: strict.Pointer("items", i, "model"), Detail: "its model was refused"}}
		}
	}
	g.Items = pick(items, "item", g.Items, &put, func(i *gear.Item) string { return i.ID })
	g.Kits = pick(kits, "kit", g.Kits, &put, func(k *gear.Kit) string { return k.ID })
	rows, plans, err := c.Store.PutGear(ctx, who(ctx).Team, signer(ctx), g, put)
	return answerRows(ctx, rows, plans, err)
}

type peopleBody struct {
	People []rig.Member `json:"people" maxItems:"2000"`
	Reason string       `json:"reason,omitempty" maxLength:"380" doc:"recorded with what changes"`
}

func (c *Config) putPeople(ctx context.Context, in *rowsIn) (*rowsOut, error) {
	var body peopleBody
	faults := strict.Faults{Most: 1000}
	if !strict.ReadWith(&faults, in.RawBody, &body) {
		return nil, failed(ctx, faults.Err())
	}
	seen := map[string]bool{}
	for i, p := range body.People {
		if seen[p.ID] {
			faults.Addf(strict.Pointer("people", i, "id"), "%q is given twice", p.ID)
		}
		seen[p.ID] = true
	}
	people := newRight(faults.Err(), "people")
	put := store.Put{Reason: body.Reason, OnlyRight: in.OnlyRight, Try: in.DryRun}
	if err := rightEnough(faults.Err(), &put, people); err != nil {
		return nil, failed(ctx, err)
	}
	body.People = pick(people, "person", body.People, &put, func(p *rig.Member) string { return p.ID })
	rows, plans, err := c.Store.PutPeople(ctx, who(ctx).Team, signer(ctx), body.People, put)
	return answerRows(ctx, rows, plans, err)
}

type peopleOut struct {
	Body []rig.Member
}

func (c *Config) people(ctx context.Context, _ *struct{}) (*peopleOut, error) {
	people, err := c.Store.People(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &peopleOut{people}, nil
}

type comparisonIn struct {
	Models []string `query:"model,explode" minItems:"2" maxItems:"3" doc:"ids of two or three models of one class"`
}

type comparisonOut struct {
	Body struct {
		Titles []string   `json:"titles"`
		Rows   []gear.Row `json:"rows"`
	}
}

func (c *Config) comparison(ctx context.Context, in *comparisonIn) (*comparisonOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &comparisonOut{}
	var models []*gear.Model
	for i, id := range in.Models {
		m := find(g.Models, id)
		if m == nil {
			return nil, NewProblem(http.StatusNotFound, "no such model", strict.Fault{Pointer: strict.Pointer("query", "model", i), Detail: "no model " + strconv.Quote(id)})
		}
		if m.Class != find(g.Models, in.Models[0]).Class {
			return nil, NewProblem(http.StatusUnprocessableEntity, "only models of one class are compared",
				strict.Fault{Pointer: strict.Pointer("query", "model", i), Detail: "is a " + m.Class.Words()})
		}
		models = append(models, m)
		out.Body.Titles = append(out.Body.Titles, m.Title())
	}
	out.Body.Rows = gear.Compare(models)
	return out, nil
}

func find(models []gear.Model, id string) *gear.Model {
	for i := range models {
		if models[i].ID == id {
			return &models[i]
		}
	}
	return nil
}

type rawIn struct {
	RawBody []byte
}

// lookFor is how long a list of drops looks at those that changed since; a drop with a rescue
// takes up to half a second.
const lookFor = 300 * time.Millisecond

type dropLine struct {
	ID        string       `json:"id"`
	Name      string       `json:"name"`
	Site      string       `json:"site,omitempty"`
	Day       gear.Date    `json:"day"`
	Version   int          `json:"version"`
	ChangedAt time.Time    `json:"changed_at"`
	Stops     *int         `json:"stops,omitempty" doc:"left out: not counted yet; ask again"`
	Looks     *int         `json:"looks,omitempty"`
	Plan      record.State `json:"plan,omitempty" enum:"draft,checked,released" doc:"left out: not judged yet"`
	Empty     bool         `json:"empty,omitempty" doc:"there is nothing in it to look at yet"`
	Refused   string       `json:"refused,omitempty" doc:"why it could not be checked with the store's present records"`
}

type dropsIn struct {
	Limit  int       `query:"limit" minimum:"1" maximum:"200" default:"200"`
	Find   string    `query:"find" maxLength:"80" doc:"letters of a name, a site or a day"`
	Before time.Time `query:"before" doc:"when the last drop that was seen was changed"`
	After  string    `query:"after" maxLength:"64" doc:"with before: the id of that drop"`
}

type dropsOut struct {
	Link string `header:"Link" doc:"address of the next page, rel=next (RFC 8288); left out: there is none"`
	Body []dropLine
}

func (c *Config) drops(ctx context.Context, in *dropsIn) (*dropsOut, error) {
	page := store.DropsPage{Limit: in.Limit + 1, Find: strings.TrimSpace(in.Find), Before: in.Before, After: in.After}
	list, err := c.Store.DropsPage(ctx, who(ctx).Team.ID, page)
	if err != nil {
		return nil, failed(ctx, err)
	}
	// One more than is given tells whether there are more.
	more := len(list) > in.Limit
	list = list[:min(len(list), in.Limit)]
	if err := c.Store.Present(ctx, who(ctx).Team, list...); err != nil {
		return nil, failed(ctx, err)
	}
	states, err := c.Store.States(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &dropsOut{Body: make([]dropLine, len(list))}
	if more {
		last := list[len(list)-1]
		next := url.Values{"limit": {strconv.Itoa(in.Limit)}, "find": {in.Find}, "before": {last.ChangedAt.UTC().Format(time.RFC3339Nano)}, "after": {last.ID}}
		out.Link = "</api/v1/drops?" + next.Encode() + ">; rel=\"next\""
	}
	// It looks at one at least: whoever asks again sees more.
	until, first := time.Now().Add(cmp.Or(c.LookFor, lookFor)), true
	wanted := func() bool {
		is := first || time.Now().Before(until)
		first = false
		return is
	}
	for i, d := range list {
		line := dropLine{ID: d.ID, Name: d.Document.Name, Site: d.Document.Site, Day: d.Document.Day, Version: d.Version, ChangedAt: d.ChangedAt}
		found, known, err := c.Store.Look(ctx, who(ctx).Team.ID, d, states[d.ID], wanted)
		if err != nil {
			return nil, failed(ctx, err)
		}
		if known {
			line.Stops, line.Looks, line.Empty, line.Refused, line.Plan = &found.Stops, &found.Looks, found.Empty, found.Refused, found.Plan
		}
		out.Body[i] = line
	}
	return out, nil
}

type idIn struct {
	ID string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
}

type dropOut struct {
	ETag string `header:"ETag"`
	Body *drop.Document
}

func (c *Config) drop(ctx context.Context, in *idIn) (*dropOut, error) {
	d, err := c.Store.Drop(ctx, who(ctx).Team.ID, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.Store.Present(ctx, who(ctx).Team, d); err != nil {
		return nil, failed(ctx, err)
	}
	return &dropOut{etag(d.Version), d.Document}, nil
}

// read reads a drop document that is to be kept: with the store's records in
// the place of whatever it says of the store's items, and the team's policy. The id is ""
// for one that has none yet.
func (c *Config) read(ctx context.Context, id string, body []byte) (*drop.Document, error) {
	d, err := drop.ReadKept(body)
	if err != nil {
		return nil, err
	}
	if err := c.Store.Present(ctx, who(ctx).Team, &store.Drop{ID: id, Document: d}); err != nil {
		return nil, err
	}
	return d, d.Validate()
}

type savedOut struct {
	ETag     string `header:"ETag"`
	Location string `header:"Location"`
	Body     struct {
		ID      string `json:"id"`
		Version int    `json:"version"`
	}
}

func saved(id string, version int) *savedOut {
	out := &savedOut{ETag: etag(version), Location: "/api/v1/drops/" + id}
	out.Body.ID, out.Body.Version = id, version
	return out
}

func (c *Config) addDrop(ctx context.Context, in *rawIn) (*savedOut, error) {
	d, err := c.read(ctx, "", in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	id := newID(d.Name)
	version, err := c.Store.AddDrop(ctx, who(ctx).Team.ID, signer(ctx), id, d)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return saved(id, version), nil
}

// newID makes an id from a name, with a random tail so that two drops of one
// name do not meet.
func newID(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	head := strings.Trim(b.String()[:min(b.Len(), 40)], "-")
	return strings.Trim(head+"-"+strings.ToLower(rand.Text()[:6]), "-")
}

type saveIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the ETag the drop was read with"`
	RawBody []byte
}

func (c *Config) saveDrop(ctx context.Context, in *saveIn) (*savedOut, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	d, err := c.read(ctx, in.ID, in.RawBody)
	if err != nil {
		return nil, failed(ctx, err)
	}
	version, err = c.Store.SaveDrop(ctx, who(ctx).Team, signer(ctx), in.ID, version, d)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return saved(in.ID, version), nil
}

type removeIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	IfMatch string `header:"If-Match" doc:"the ETag the drop was read with"`
}

func (c *Config) removeDrop(ctx context.Context, in *removeIn) (*struct{}, error) {
	version, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	if err := c.Store.RemoveDrop(ctx, who(ctx).Team.ID, in.ID, version); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

func etag(version int) string { return `"` + strconv.Itoa(version) + `"` }

func ifMatch(header string) (int, error) {
	if header == "" {
		return 0, NewProblem(http.StatusPreconditionRequired, "say with If-Match which version was read",
			strict.Fault{Pointer: "/header/If-Match", Detail: "missing"})
	}
	n, err := strconv.ParseInt(strings.Trim(header, `"`), 10, 32)
	version := int(n)
	if err != nil || etag(version) != header {
		return 0, NewProblem(http.StatusUnprocessableEntity, "If-Match is not an ETag of this API",
			strict.Fault{Pointer: "/header/If-Match", Detail: `not a version such as "3"`})
	}
	return version, nil
}
