package report

import (
	"cmp"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/gear"
)

// List is a sheet of tables: what is in the store, in a kit, or known of one item.
type List struct {
	Title string
	// About stands under the title, a line each.
	About []string
	Parts []ListPart
	// Small is on A5.
	Small bool
}

// ListPart is a table with its heading. Widths are shares of the page.
type ListPart struct {
	Heading string
	Widths  []float64
	Head    []string
	Rows    [][]string
	// Empty is said where there are no rows.
	Empty string
	// OnNewPage begins it on a page of its own.
	OnNewPage bool
}

// Print says who prints what for whom.
type Print struct {
	Team string
	// Last is the number of the team's last record; 0: there is none.
	Last      int64
	Seal      string
	Printed   time.Time
	PrintedBy string
}

// PDF writes the list.
func (l *List) PDF(w io.Writer, by Print) error {
	paper := newPage
	if l.Small {
		paper = newSmallPage
	}
	p := paper(l.Title+" · "+by.Team, by.Printed)
	p.heading(16, l.Title)
	p.text(by.Team)
	for _, words := range l.About {
		p.text(words)
	}
	for _, part := range l.Parts {
		p.Ln(3)
		if part.OnNewPage {
			p.AddPage()
		}
		p.heading(12, part.Heading)
		if len(part.Rows) == 0 {
			p.text(part.Empty)
		}
		sum, widths := 0.0, make([]float64, len(part.Widths))
		for _, share := range part.Widths {
			sum += share
		}
		for i, share := range part.Widths {
			widths[i] = p.wide * share / sum
		}
		p.table(widths, part.Head, part.Rows)
	}
	p.Ln(3)
	if by.Last > 0 {
		p.text(fmt.Sprintf("The team's last record is %d, seal %s.", by.Last, by.Seal))
	}
	p.text(fmt.Sprintf("Printed %s for %s.", clock(by.Printed), by.PrintedBy))
	return p.Output(w)
}

// StoreList has everything in a store, by label. Months is the team's interval of
// examinations.
func StoreList(g *drop.Store, months int) *List {
	models := gear.ModelsByID(g.Models)
	items := slices.Clone(g.Items)
	slices.SortFunc(items, func(a, b gear.Item) int { return naturally(a.Label, b.Label) })
	part := ListPart{
		Heading: fmt.Sprintf("%d items", len(items)), Empty: "Nothing is in the store.",
		Widths: []float64{24, 24, 40, 34, 26, 26}, Head: []string{"item", "serial", "model", "state", "place, kit", "next examination, end of life"},
	}
	for i := range items {
		item := &items[i]
		m := models[item.Model]
		life := m.LifeOf(item, months, "", nil)
		part.Rows = append(part.Rows, []string{
			item.Label, item.Serial, m.Title(), stateOf(item), joined("\n", item.Place, item.Kit), joined("\n", string(life.Due), string(life.End)),
		})
	}
	return &List{Title: "Store", Parts: []ListPart{part}}
}

// KitList holds a kit against what belongs in it, with room to tick what is counted.
func KitList(k *gear.Kit, g *drop.Store) *List {
	items := map[string]*gear.Item{}
	for i := range g.Items {
		items[g.Items[i].ID] = &g.Items[i]
	}
	named := func(ids []string) string {
		words := make([]string, len(ids))
		for i, id := range ids {
			if words[i] = id; items[id] != nil {
				words[i] = items[id].Label + " (" + items[id].Serial + ")"
			}
		}
		return strings.Join(words, ", ")
	}
	l := &List{Title: "Kit: " + k.Name, About: []string{"In the store."}}
	if k.IssuedTo != "" {
		l.About = []string{fmt.Sprintf("With %s since %s.", k.IssuedTo, k.IssuedOn)}
	}
	if len(k.Missing) > 0 {
		l.About = append(l.About, "DID NOT COME BACK: "+named(k.Missing))
	}
	part := ListPart{
		Heading: "What belongs in it", Empty: "Nothing says what belongs in it.",
		Widths: []float64{40, 18, 16, 88, 18}, Head: []string{"what", "required", "present", "which", "counted"},
	}
	counted := k.Count(g.Items, gear.ModelsByID(g.Models))
	for _, line := range counted.Lines {
		which := named(line.Items)
		if len(line.Unfit) > 0 {
			which = joined("\n", which, "not counted: "+named(line.Unfit))
		}
		there := fmt.Sprint(len(line.Items))
		if len(line.Items) < line.Wanted {
			there += " SHORT"
		}
		part.Rows = append(part.Rows, []string{line.Words, fmt.Sprint(line.Wanted), there, which, "[   ]"})
	}
	if len(counted.More) > 0 {
		part.Rows = append(part.Rows, []string{"more than belongs in it", "", fmt.Sprint(len(counted.More)), named(counted.More), "[   ]"})
	}
	l.Parts = []ListPart{part}
	return l
}

// ItemList has all that is known and recorded of an item.
func ItemList(m *gear.Model, item *gear.Item, life *gear.LifeLine, records []Row) *List {
	l := &List{Title: item.Label, About: []string{m.Title() + ", " + m.Class.Words() + ", serial " + item.Serial, stateOf(item)}}
	length, measured, paper := "", "", ""
	if item.LengthM > 0 {
		length = fmt.Sprint(item.LengthM)
	}
	if item.MeasuredMM > 0 {
		measured = fmt.Sprint(item.MeasuredMM)
	}
	if g := item.Guest; g != nil {
		paper = fmt.Sprintf("%s, examined by %s, valid until %s", g.Certificate, g.Examiner, g.ValidUntil)
	}
	for _, f := range [][2]string{
		{"Lot: ", item.Lot}, {"Code on its label: ", item.Code}, {"Marked: ", item.Marking}, {"Length: ", length}, {"Measured diameter: ", measured}, {"Condition: ", string(item.Condition)},
		{"Place: ", item.Place}, {"Kit: ", item.Kit}, {"Owner: ", item.Owner}, {"Its paper: ", paper}, {"Next thorough examination: ", string(life.Due)}, {"End of life: ", string(life.End)},
	} {
		if f[1] != "" {
			l.About = append(l.About, f[0]+f[1])
		}
	}
	days := ListPart{Heading: "Its days", Widths: []float64{24, 150}, Head: []string{"day", "what"}, Empty: "No day of it is known."}
	for _, k := range life.Marks {
		days.Rows = append(days.Rows, []string{string(k.On), k.Words})
	}
	signed := ListPart{
		Heading: "Records, as signed", Empty: "Nothing is recorded of it.",
		Widths: []float64{12, 31, 48, 32, 57}, Head: []string{"no.", "given (server)", "what", "signed by", "result"}, Rows: recordCells(records),
	}
	l.Parts = []ListPart{days, signed}
	return l
}

// naturally orders labels as people count: rope 9 before rope 10.
func naturally(a, b string) int {
	head := func(s string) string { return strings.TrimRight(s, "0123456789") }
	return cmp.Or(strings.Compare(head(a), head(b)), cmp.Compare(len(a), len(b)), strings.Compare(a, b))
}

func stateOf(i *gear.Item) string {
	words := map[gear.State]string{gear.InService: "in service", gear.Quarantine: "in quarantine", gear.Retired: "retired"}[i.State]
	return joined(": ", words, i.Reason)
}

// joined puts together what is not empty.
func joined(between string, words ...string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), between)
}
