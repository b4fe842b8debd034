// Package day knows a day: which drops go out when, who and what is on which, what the wind
// will do, and who comes where somebody is stuck. It finds what cannot be, and fills a board.
//
// It knows drops as documents. It knows no store, and plans no move: the cover of a drop is
// the rescue package's.
package day

import (
	"fmt"
	"strconv"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/strict"
)

// Format and Version mark a board's document.
const (
	Format  = "board"
	Version = 1
)

// A Board is a day as it is kept: its drops with their hours, and its wind. Who and what is on
// a drop stands in the drop.
type Board struct {
	Format  string    `json:"format" enum:"board" doc:"always: board"`
	Version int       `json:"version" minimum:"1" maximum:"1"`
	Day     gear.Date `json:"day" format:"date"`
	Slots   []Slot    `json:"slots" maxItems:"30"`
	Wind    []Wind    `json:"wind,omitempty" maxItems:"96" doc:"by the hour; each stands until the next, an hour at most"`
	// WindAtM is the height above ground that the figures are for.
	WindAtM quantity.Metres `json:"wind_at_m,omitempty" exclusiveMinimum:"0" maximum:"2000" doc:"height that the figures are for; left out: the height of the work"`
	Note    string          `json:"note,omitempty" maxLength:"2000"`
}

// A Slot is a drop with its hours.
type Slot struct {
	Drop string `json:"drop" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	// From is left out while it has no time yet: Fill gives it one.
	From  Clock   `json:"from,omitempty" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"by the clock of the team; left out: not placed yet"`
	Hours float64 `json:"hours" minimum:"0.25" maximum:"24"`
	// Supervisor is who answers for it, Others are on site beside those on the drop.
	Supervisor string   `json:"supervisor,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Others     []string `json:"others,omitempty" maxItems:"20" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"on site beside those on the drop, such as a sentry"`
	// ComeMin is how long somebody takes who comes from another drop.
	ComeMin *int                     `json:"come_min,omitempty" minimum:"0" maximum:"600" doc:"minutes until a rescuer who is at another drop stands at this one; left out: 10"`
	GustMS  quantity.MetresPerSecond `json:"gust_m_s,omitempty" exclusiveMinimum:"0" maximum:"60" doc:"the site's own limit for gusts"`
	// Hazards are of the work; NoHazards says that somebody looked and there is none.
	Hazards   []Hazard `json:"hazards,omitempty" maxItems:"20"`
	NoHazards bool     `json:"no_hazards,omitempty" doc:"looked at: the work itself brings none"`
}

// Hazard is one of the work itself.
type Hazard struct {
	Kind string `json:"kind" enum:"cutting,grinding,hot-work,chemicals,machinery,vehicles,boats,falling-objects"`
	// Protection is what keeps it from ropes and people; until it is stated nobody works.
	Protection string `json:"protection,omitempty" maxLength:"400"`
}

// Wind is what is expected from a time on.
type Wind struct {
	At     Clock                     `json:"at" pattern:"^([0-3][0-9]|4[0-7]):[0-5][0-9]$" doc:"hours from 24 on are of the next day"`
	WindMS quantity.MetresPerSecond  `json:"wind_m_s" minimum:"0" maximum:"100"`
	GustMS *quantity.MetresPerSecond `json:"gust_m_s,omitempty" minimum:"0" maximum:"100" doc:"left out: not known; the wind counts"`
	// Lightning stops work, whatever the wind.
	Lightning bool `json:"lightning,omitempty"`
}

// Clock is a time of day, "07:30".
type Clock string

// Minutes from midnight.
func (c Clock) Minutes() int {
	if len(c) != 5 {
		return 0
	}
	h, _ := strconv.Atoi(string(c[:2]))
	m, _ := strconv.Atoi(string(c[3:]))
	return 60*h + m
}

// ClockOf is the time of day so many minutes from midnight, of the next day from 24:00 on.
func ClockOf(minutes int) Clock { return Clock(fmt.Sprintf("%02d:%02d", minutes/60, minutes%60)) }

const dayMinutes = 24 * 60

// Span is from one minute of the day until another.
type Span struct {
	From int `json:"from_min" doc:"minutes from midnight of the day"`
	To   int `json:"to_min"`
}

// meets reports whether two spans lie less than a gap apart.
func (s Span) meets(o Span, gap int) bool { return s.From < o.To+gap && o.From < s.To+gap }

func (s Span) words() string {
	return string(ClockOf((s.From+dayMinutes)%dayMinutes)) + " to " + string(ClockOf((s.To+dayMinutes)%dayMinutes))
}

// Span is when the drop is worked on; ok is false while it is not placed.
func (s *Slot) Span() (span Span, ok bool) {
	from := s.From.Minutes()
	return Span{from, from + s.minutes()}, s.From != ""
}

func (s *Slot) minutes() int { return int(s.Hours*60 + 0.5) }

// come is how long a rescuer takes from another drop, in minutes.
func (s *Slot) come() int {
	if s.ComeMin == nil {
		return 10
	}
	return *s.ComeMin
}

// Read reads a board strictly. Every problem is in the *strict.Error that it gives.
func Read(data []byte) (*Board, error) {
	b := new(Board)
	if err := strict.Read(data, b); err != nil {
		return nil, err
	}
	var faults strict.Faults
	b.Validate("", &faults)
	return b, faults.Err()
}

// Validate refuses what the types cannot.
func (b *Board) Validate(at string, faults *strict.Faults) {
	seen := map[string]bool{}
	for i := range b.Slots {
		s := &b.Slots[i]
		if seen[s.Drop] {
			faults.Addf(at+strict.Pointer("slots", i, "drop"), "%q is on the board twice", s.Drop)
		}
		seen[s.Drop] = true
		if s.NoHazards && len(s.Hazards) > 0 {
			faults.Addf(at+strict.Pointer("slots", i, "no_hazards"), "hazards are stated")
		}
	}
	for i := 1; i < len(b.Wind); i++ {
		if b.Wind[i].At <= b.Wind[i-1].At {
			faults.Addf(at+strict.Pointer("wind", i, "at"), "%s is not after %s", b.Wind[i].At, b.Wind[i-1].At)
		}
	}
	for i := range b.Wind {
		if g := b.Wind[i].GustMS; g != nil && *g < b.Wind[i].WindMS {
			faults.Addf(at+strict.Pointer("wind", i, "gust_m_s"), "a gust is no less than the wind, %v", b.Wind[i].WindMS)
		}
	}
}
