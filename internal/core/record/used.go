package record

import (
	"zealousknot/internal/core/care"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Used is how an item was used on the entry's day, or from another day until it.
type Used struct {
	From  gear.Date            `json:"from,omitempty" format:"date" doc:"first day; left out: the entry's day alone"`
	Days  int                  `json:"days" minimum:"1" maximum:"366" doc:"on how many of these days"`
	Wet   int                  `json:"wet_days,omitempty" minimum:"0" maximum:"366" doc:"on how many it was wet"`
	Dirty int                  `json:"dirty_days,omitempty" minimum:"0" maximum:"366" doc:"on how many it was dirty"`
	DownM quantity.Metres      `json:"down_m,omitempty" minimum:"0" maximum:"1000000" doc:"descended and lowered"`
	UpM   quantity.Metres      `json:"up_m,omitempty" minimum:"0" maximum:"1000000" doc:"ascended and raised"`
	Loads int                  `json:"loads,omitempty" minimum:"0" maximum:"100000" doc:"how often it was loaded"`
	Peak  quantity.Kilonewtons `json:"peak_kN,omitempty" minimum:"0" maximum:"100" doc:"greatest load that was measured"`
}

// Of is the use as it is counted.
func (u *Used) Of(day gear.Date) care.Use {
	from := u.From
	if from == "" {
		from = day
	}
	return care.Use{From: from, To: day, Days: u.Days, Wet: u.Wet, Dirty: u.Dirty, DownM: u.DownM, UpM: u.UpM, Loads: u.Loads, Peak: u.Peak}
}

func (e *Entry) judgeUse(f *Facts, at string, p *strict.Faults) {
	e.wantItem(f, at, p)
	e.notLater(f, at, p)
	u := e.Use
	if u == nil {
		return
	}
	at += "/use"
	of := u.Of(e.Day)
	span, known := of.From.DaysTo(of.To)
	switch {
	case known && span < 0:
		p.Addf(at+"/from", "is after %s", e.Day)
	case known && float64(u.Days) > float64(span)+1:
		p.Addf(at+"/days", "from %s to %s are %v days", of.From, of.To, float64(span)+1)
	case u.Wet > u.Days:
		p.Addf(at+"/wet_days", "it was used on %d", u.Days)
	case u.Dirty > u.Days:
		p.Addf(at+"/dirty_days", "it was used on %d", u.Days)
	}
	if f.Item != nil && f.Item.MadeOn != "" && of.From < f.Item.MadeOn {
		p.Addf(at+"/from", "it was made on %s", f.Item.MadeOn)
	}
}
