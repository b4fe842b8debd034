package callout

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// A Preplan is what is known of a site before anybody calls from it.
type Preplan struct {
	Format  string `json:"format" enum:"pre-plan" doc:"always: pre-plan"`
	Version int    `json:"version" minimum:"1" maximum:"1"`
	Name    string `json:"name" minLength:"1" maxLength:"80"`
	Access  string `json:"access,omitempty" maxLength:"1000" doc:"how one gets there, gates and keys"`
	// Lat and Lon are given both or not at all.
	Lat        *float64   `json:"lat,omitempty" minimum:"-90" maximum:"90" doc:"degrees north, WGS 84"`
	Lon        *float64   `json:"lon,omitempty" minimum:"-180" maximum:"180" doc:"degrees east, WGS 84"`
	Rendezvous string     `json:"rendezvous,omitempty" maxLength:"400"`
	Radio      string     `json:"radio,omitempty" maxLength:"200" doc:"channels, and where there is no signal"`
	Hazards    string     `json:"hazards,omitempty" maxLength:"1000"`
	LandingAt  string     `json:"landing_at,omitempty" maxLength:"400" doc:"where people are brought down, and how they leave it"`
	HeightM    *Span      `json:"height_m,omitempty"`
	BackM      *Span      `json:"back_m,omitempty"`
	Edge       string     `json:"edge,omitempty" enum:"roller,pad,sleeve,none,free"`
	Landing    string     `json:"landing,omitempty" enum:"ground,deck,water,boat"`
	Anchors    []Register `json:"anchors,omitempty" maxItems:"60"`
	// Drop is the id of a drop that is ready to be taken.
	Drop string `json:"drop,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"id of a drop that is ready to be taken"`
}

// Register is an anchor of the register.
type Register struct {
	Name       string               `json:"name" minLength:"1" maxLength:"80"`
	What       string               `json:"what,omitempty" maxLength:"200" doc:"bolt, tree, rail, where it is"`
	StrengthKN quantity.Kilonewtons `json:"strength_kN,omitempty" minimum:"0" maximum:"500" doc:"as proved; left out: not known"`
	ExaminedOn gear.Date            `json:"examined_on,omitempty" format:"date"`
	ExaminedBy string               `json:"examined_by,omitempty" maxLength:"80"`
	AgainBy    gear.Date            `json:"again_by,omitempty" format:"date"`
	// Anchor ties it to the drop: what the register has of it is then looked at there.
	Anchor string `json:"anchor,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"which anchor of that drop it is; left out: none of it"`
}

// ReadPreplan reads a pre-plan strictly.
func ReadPreplan(data []byte) (*Preplan, error) {
	p := new(Preplan)
	if err := strict.Read(data, p); err != nil {
		return nil, err
	}
	var faults strict.Faults
	(&Known{HeightM: p.HeightM, BackM: p.BackM}).Validate("", &faults)
	if (p.Lat == nil) != (p.Lon == nil) {
		faults.Addf("/lon", "latitude and longitude are given both, or neither")
	}
	seen, tied := map[string]bool{}, map[string]bool{}
	for i, a := range p.Anchors {
		at := strict.Pointer("anchors", i)
		if seen[a.Name] {
			faults.Addf(at+"/name", "%s is in the register already", a.Name)
		}
		seen[a.Name] = true
		switch {
		case a.Anchor == "":
		case p.Drop == "":
			faults.Addf(at+"/anchor", "no drop is named that it could be an anchor of")
		case tied[a.Anchor]:
			faults.Addf(at+"/anchor", "%s is in the register already", a.Anchor)
		}
		tied[a.Anchor] = true
		if a.ExaminedOn == "" && (a.ExaminedBy != "" || a.AgainBy != "") {
			faults.Addf(at+"/examined_on", "missing: the day of the examination")
		}
		if a.ExaminedOn != "" && a.ExaminedBy == "" {
			faults.Addf(at+"/examined_by", "missing: who examined it")
		}
	}
	return p, faults.Err()
}

// Of is an entry of the register of a site, as a drop's anchor has it.
func (a *Register) Of(site string) *rig.Registered {
	return &rig.Registered{Site: site, Name: a.Name, StrengthKN: a.StrengthKN, ExaminedOn: a.ExaminedOn, AgainBy: a.AgainBy}
}

// NearAsked looks for sites by letters of their names, by how far they are, or both.
type NearAsked struct {
	Preplans []PreplanOf `json:"preplans" maxItems:"1000"`
	Find     string      `json:"find,omitempty" maxLength:"80"`
	Lat      *float64    `json:"lat,omitempty" minimum:"-90" maximum:"90"`
	Lon      *float64    `json:"lon,omitempty" minimum:"-180" maximum:"180"`
	Day      gear.Date   `json:"day" format:"date"`
}

// PreplanOf is a pre-plan with its id.
type PreplanOf struct {
	ID      string  `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Preplan Preplan `json:"preplan"`
}

// Near is a site that was found.
type Near struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	// FarM is left out where either place is not known.
	FarM  *quantity.Metres `json:"far_m,omitempty" doc:"along the ground as a sphere, m; left out: not known"`
	Far   string           `json:"far,omitempty" doc:"as people read it"`
	Stale []string         `json:"stale,omitempty" doc:"anchors whose examination is not in date, with why"`
}

// earthM is the mean radius of the earth.
const earthM = 6_371_000

// distance is along a sphere, by the haversine formula: within 0.6 % of the way along the
// ellipsoid.
func distance(lat1, lon1, lat2, lon2 float64) quantity.Metres {
	const rad = math.Pi / 180
	h := func(x float64) float64 { s := math.Sin(x / 2); return s * s }
	a := h((lat2-lat1)*rad) + math.Cos(lat1*rad)*math.Cos(lat2*rad)*h((lon2-lon1)*rad)
	return quantity.Metres(2 * earthM * math.Asin(math.Sqrt(min(1, a))))
}

// Answer gives the sites, the nearest first, then those whose place is not known by their
// names.
func (a *NearAsked) Answer() ([]Near, error) {
	if (a.Lat == nil) != (a.Lon == nil) {
		return nil, &strict.Error{Faults: []strict.Fault{{Pointer: "/lon", Detail: "latitude and longitude are given both, or neither"}}}
	}
	list := []Near{}
	for _, p := range a.Preplans {
		if !strings.Contains(strings.ToLower(p.Preplan.Name), strings.ToLower(a.Find)) {
			continue
		}
		n := Near{ID: p.ID, Name: p.Preplan.Name}
		if a.Lat != nil && p.Preplan.Lat != nil && p.Preplan.Lon != nil {
			far := distance(*a.Lat, *a.Lon, *p.Preplan.Lat, *p.Preplan.Lon)
			n.FarM, n.Far = &far, fmt.Sprintf("%.0f m", float64(far))
			if far >= 1000 {
				n.Far = fmt.Sprintf("%.1f km", float64(far)/1000)
			}
		}
		for i := range p.Preplan.Anchors {
			if why := p.Preplan.Anchors[i].Of(p.Preplan.Name).Stale(a.Day); why != "" {
				n.Stale = append(n.Stale, p.Preplan.Anchors[i].Name+": "+why)
			}
		}
		list = append(list, n)
	}
	slices.SortStableFunc(list, func(x, y Near) int {
		switch {
		case (x.FarM == nil) != (y.FarM == nil):
			if x.FarM != nil {
				return -1
			}
			return 1
		case x.FarM != nil && *x.FarM != *y.FarM:
			return cmp.Compare(*x.FarM, *y.FarM)
		}
		return cmp.Compare(x.Name, y.Name)
	})
	return list, nil
}
