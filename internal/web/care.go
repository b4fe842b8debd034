package web

import (
	"bytes"
	"cmp"
	"context"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/wear"
	"zealousknot/internal/report"
	"zealousknot/internal/store"
)

// registerCare declares what is due, its calendar, what is examined, wear, and labels.
func (c *Config) registerCare(api huma.API) {
	get(api, "due", "/due", "What items need by a day, and which planned drops that blocks", c.due)
	file(api, "due-ics", "/due.ics", "What is due, as iCalendar", "text/calendar", c.dueCalendar)
	file(api, "due-pdf", "/due.pdf", "What is due, as PDF", "application/pdf", c.duePrinted)
	get(api, "feeds", "/due/feeds", "The secret addresses at which the calendar is read", c.feeds)
	huma.Register(api, operation(http.MethodPost, "add-feed", "/due/feeds", "Make a secret address for the calendar; it is shown once"), c.addFeed)
	huma.Register(api, operation(http.MethodDelete, "revoke-feed", "/due/feeds/{id}", "Shut a secret address"), c.revokeFeed)
	file(api, "feed", "/feeds/{secret}", "What is due, as iCalendar, at a secret address", "text/calendar", c.feed)
	file(api, "batch-pdf", "/examinations/{id}/report.pdf", "The report of a session of examinations, as PDF", "application/pdf", c.batchPDF)
	file(api, "batch-csv", "/examinations/{id}/report.csv", "The examinations of a session, as CSV", "text/csv", c.batchCSV)
	file(api, "batch-notice", "/examinations/{id}/notice.pdf", "What a session of examinations stopped at once, as a notice to hand over", "application/pdf", c.batchNotice)
	registerPhotos(api, c)
	get(api, "recalls", "/recalls", "Recalls, last first: what each affects and who has read it", c.recalls)
	post(api, "affected", "/recalls/affected", "Which items a recall would be about; nothing is kept", reflect.TypeFor[record.Recalled](), c.affected)
	get(api, "points", "/examinations/points", "What a thorough examination looks at, by model", c.points)
	get(api, "rope-map", "/items/{id}/rope", "What is on a rope, by metre from its end A", c.ropeMap)
	get(api, "wear", "/items/{id}/wear", "How the parts of an item wear", c.itemWear)
	get(api, "item-by-code", "/codes/{code}", "The item with a code, as it is typed or scanned", c.itemByCode)
	fileOf(api, "labels", "/labels.pdf", "Labels of items, as PDF", "application/pdf", reflect.TypeFor[labelsBody](), c.labels)
}

// today is the team's day.
func today(t store.Team) gear.Date {
	return gear.Date(time.Now().In(t.Location()).Format(time.DateOnly))
}

type dueIn struct {
	Until string `query:"until" format:"date" doc:"left out: ninety days from today"`
}

type dueOut struct {
	Body struct {
		Today gear.Date      `json:"today" format:"date"`
		Until gear.Date      `json:"until" format:"date"`
		Due   []care.DueLine `json:"due" doc:"the first first"`
	}
}

// dueOf lists what a team's items need by a day; no day: within ninety days.
func (c *Config) dueOf(ctx context.Context, team store.Team, until gear.Date) (list []care.DueLine, from, to gear.Date, err error) {
	from = today(team)
	if to = until; to == "" {
		to = from.AddDays(90)
	}
	g, err := c.Store.Gear(ctx, team.ID)
	if err != nil {
		return nil, from, to, err
	}
	own, _, err := c.Store.Policy(ctx, team)
	if err != nil {
		return nil, from, to, err
	}
	planned, err := c.Store.PlannedByItem(ctx, team, from)
	if err != nil {
		return nil, from, to, err
	}
	return care.DueUntil(g.Items, gear.ModelsByID(g.Models), own.With().ExaminationMonths, from, to, planned), from, to, nil
}

func (c *Config) due(ctx context.Context, in *dueIn) (*dueOut, error) {
	out := &dueOut{}
	var err error
	if out.Body.Due, out.Body.Today, out.Body.Until, err = c.dueOf(ctx, who(ctx).Team, gear.Date(in.Until)); err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

// yearAhead is how far calendars look.
const yearAhead = 366

func (c *Config) calendarOf(ctx context.Context, team store.Team) (*fileOut, error) {
	list, _, _, err := c.dueOf(ctx, team, today(team).AddDays(yearAhead))
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := report.Calendar(&b, team.Name, list, time.Now()); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("due.ics", &b), nil
}

func (c *Config) dueCalendar(ctx context.Context, _ *struct{}) (*fileOut, error) {
	return c.calendarOf(ctx, who(ctx).Team)
}

func (c *Config) duePrinted(ctx context.Context, in *dueIn) (*fileOut, error) {
	list, _, until, err := c.dueOf(ctx, who(ctx).Team, gear.Date(in.Until))
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, "due", report.DueList(list, string(until)))
}

type feedsOut struct{ Body []store.Feed }

func (c *Config) feeds(ctx context.Context, _ *struct{}) (*feedsOut, error) {
	list, err := c.Store.Feeds(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &feedsOut{list}, nil
}

type feedOut struct{ Body *store.Feed }

func (c *Config) addFeed(ctx context.Context, _ *struct{}) (*feedOut, error) {
	f, err := c.Store.AddFeed(ctx, who(ctx).Team.ID, signer(ctx))
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &feedOut{f}, nil
}

func (c *Config) revokeFeed(ctx context.Context, in *uuidIn) (*struct{}, error) {
	if err := c.Store.RevokeFeed(ctx, who(ctx).Team.ID, in.ID); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type secretIn struct {
	Secret string `path:"secret" maxLength:"80" doc:"as it was stated when the address was made, with .ics"`
}

// feed answers whoever knows the address; nobody is signed in.
func (c *Config) feed(ctx context.Context, in *secretIn) (*fileOut, error) {
	secret := in.Secret
	if n := len(secret) - len(".ics"); n > 0 && secret[n:] == ".ics" {
		secret = secret[:n]
	}
	team, err := c.Store.FeedTeam(ctx, secret)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.calendarOf(ctx, team)
}

// batch gathers the examinations of a session, first one first.
func (c *Config) batch(ctx context.Context, id string) ([]report.ExaminationRow, error) {
	team := who(ctx).Team
	lines, err := c.Store.RecordsAbout(ctx, team.ID, record.Subject{Kind: "batch", ID: id}, store.Page{Limit: whole})
	if err != nil {
		return nil, err
	}
	if len(lines) == 0 {
		return nil, store.ErrNotFound
	}
	g, err := c.Store.Gear(ctx, team.ID)
	if err != nil {
		return nil, err
	}
	models, items := gear.ModelsByID(g.Models), map[string]*gear.Item{}
	for i := range g.Items {
		items[g.Items[i].ID] = &g.Items[i]
	}
	months, err := c.months(ctx)
	if err != nil {
		return nil, err
	}
	var rows []report.ExaminationRow
	for _, l := range slices.Backward(lines) {
		s := &l.Says
		if s.Examined == nil {
			continue
		}
		r := report.ExaminationRow{
			Number: l.Number, Item: s.Item, Label: s.Item, On: string(s.Day), By: cmp.Or(s.Examined.Examiner, l.By), Result: s.Examined.Result, Note: s.Note,
			Points: examinedWords(s.Examined), Readings: s.Examined.ReadingsText(), Colour: s.Examined.Colour, Seal: l.Seal,
		}
		if s.Examined.Stops() {
			r.Stopped = cmp.Or(s.Examined.Kept, "not said")
		}
		if l.CorrectedBy > 0 {
			r.Stopped, r.Withdrawn = "", l.CorrectedBy
		}
		if i := items[s.Item]; i != nil {
			r.Label, r.Serial, r.Title = i.Label, i.Serial, models[i.Model].Title()
			r.NextDue = string(nextDue(s, i, models, months))
		}
		rows = append(rows, r)
	}
	return rows, nil
}

type batchIn struct {
	ID string `path:"id" maxLength:"64"`
}

func (c *Config) batchPDF(ctx context.Context, in *batchIn) (*fileOut, error) {
	rows, err := c.batch(ctx, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return c.printed(ctx, "examinations", report.ExaminationList(rows))
}

// batchNotice answers 404 where nothing was stopped: there is nothing to hand over.
func (c *Config) batchNotice(ctx context.Context, in *batchIn) (*fileOut, error) {
	rows, err := c.batch(ctx, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	rows = slices.DeleteFunc(rows, func(r report.ExaminationRow) bool { return r.Stopped == "" })
	if len(rows) == 0 {
		return nil, NewProblem(http.StatusNotFound, "nothing was stopped in this session")
	}
	return c.printed(ctx, "urgent-defects", report.DefectNotice(rows))
}

func (c *Config) batchCSV(ctx context.Context, in *batchIn) (*fileOut, error) {
	rows, err := c.batch(ctx, in.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := report.ExaminationsCSV(&b, rows); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("examinations.csv", &b), nil
}

type pointsOut struct {
	Body struct {
		Models map[string][]care.ExaminationPoint `json:"models" doc:"by model id"`
		// MayNot says, for classes of which who asks may examine nothing today, why.
		MayNot map[gear.Class]string `json:"may_not" doc:"by class: why who asks may not examine things of it today"`
	}
}

// points are those of every model of the store, so that a session can go on without a
// connection.
func (c *Config) points(ctx context.Context, _ *struct{}) (*pointsOut, error) {
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	people, err := c.Store.People(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	i, out := who(ctx), &pointsOut{}
	out.Body.Models, out.Body.MayNot = map[string][]care.ExaminationPoint{}, map[gear.Class]string{}
	for n := range g.Models {
		m := &g.Models[n]
		out.Body.Models[m.ID] = care.Points(m)
		if why := rig.MayNotExamine(people, i.Person, is(i, StoreKeeper), m.Class, today(i.Team)); why != "" {
			out.Body.MayNot[m.Class] = why
		}
	}
	return out, nil
}

type wearOut struct{ Body []wear.Trend }

func (c *Config) itemWear(ctx context.Context, in *idIn) (*wearOut, error) {
	k, err := c.known(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	return &wearOut{Body: append([]wear.Trend{}, trends(k)...)}, nil
}

// trends are of every part that the leaflet limits or that was measured.
func trends(k *knownItem) (list []wear.Trend) {
	parts := k.model.WearParts()
	readings := map[string][]wear.Reading{}
	for _, l := range slices.Backward(k.lines) {
		if l.Says.Examined == nil || l.CorrectedBy > 0 {
			continue
		}
		for _, r := range l.Says.Examined.Readings {
			readings[r.Part] = append(readings[r.Part], wear.Reading{On: l.Says.Day, Part: r.Part, MM: r.MM})
			if !slices.ContainsFunc(parts, func(p gear.WearPart) bool { return p.Part == r.Part }) {
				parts = append(parts, gear.WearPart{Part: r.Part})
			}
		}
	}
	for _, p := range parts {
		list = append(list, wear.TrendOf(readings[p.Part], p))
	}
	return list
}

type ropeOut struct {
	Body struct {
		LengthM quantity.Metres   `json:"length_m"`
		Marks   []record.RopeMark `json:"marks" doc:"first recorded first; what a part had before it was cut off is among them"`
	}
}

// ropeMap is made from the records about a rope, and about the ropes it was cut off.
func (c *Config) ropeMap(ctx context.Context, in *idIn) (*ropeOut, error) {
	k, err := c.known(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if k.model.Rope == nil {
		return nil, NewProblem(http.StatusNotFound, "it is no rope")
	}
	out := &ropeOut{}
	out.Body.LengthM = k.item.LengthM
	if out.Body.Marks, err = record.RopeMap(in.ID, c.standing(ctx)); err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

// standing gives the records about a thing that stand, first one first.
func (c *Config) standing(ctx context.Context) func(item string) ([]record.Numbered, error) {
	return func(item string) ([]record.Numbered, error) { return c.Store.Standing(ctx, who(ctx).Team.ID, item) }
}

type codeIn struct {
	Code string `path:"code" maxLength:"60"`
}

type codeOut struct {
	Body struct {
		Code string `json:"code"`
		Item string `json:"item"`
	}
}

func (c *Config) itemByCode(ctx context.Context, in *codeIn) (*codeOut, error) {
	code, err := care.ReadCode(in.Code)
	if err != nil {
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/path/code", Detail: err.Error()}}})
	}
	out := &codeOut{}
	out.Body.Code = code
	if out.Body.Item, err = c.Store.ItemByCode(ctx, who(ctx).Team.ID, code); err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

type labelsBody struct {
	Items []string `json:"items" minItems:"1" maxItems:"2000" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Sheet string   `json:"sheet" enum:"70x37,64x34,38x21,48x17"`
	Skip  int      `json:"skip,omitempty" minimum:"0" maximum:"64" doc:"places that are left free: a sheet that was begun"`
}

func (c *Config) labels(ctx context.Context, in *rawIn) (*fileOut, error) {
	var body labelsBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	g, err := c.Store.Gear(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if c.PublicURL == "" {
		return nil, NewProblem(http.StatusConflict, "where the program is reached is not stated: serve with --public-url")
	}
	var faults strict.Faults
	var list []report.Label
	for n, id := range body.Items {
		i := slices.IndexFunc(g.Items, func(i gear.Item) bool { return i.ID == id })
		if i < 0 {
			faults.Addf(strict.Pointer("items", n), "no item %q in the store", id)
			continue
		}
		item := &g.Items[i]
		list = append(list, report.Label{Code: item.Code, Label: item.Label, Serial: item.Serial, Address: c.PublicURL + "/i/" + item.Code})
	}
	sheet := &report.LabelSheets[slices.IndexFunc(report.LabelSheets, func(s report.LabelSheet) bool { return s.ID == body.Sheet })]
	if body.Skip >= sheet.Across*sheet.Down {
		faults.Addf("/skip", "the sheet has %d places", sheet.Across*sheet.Down)
	}
	if err := faults.Err(); err != nil {
		return nil, failed(ctx, err)
	}
	var b bytes.Buffer
	if err := report.Labels(&b, sheet, body.Skip, list, time.Now()); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("labels.pdf", &b), nil
}
