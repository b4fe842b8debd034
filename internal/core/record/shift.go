package record

import (
	"fmt"
	"time"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
)

// Shift decides for how long checks count: from when they are made, whatever the date.
type Shift struct {
	At    time.Time
	Today gear.Date
	Hours quantity.Hours
}

func (s *Shift) length() time.Duration { return time.Duration(float64(s.Hours) * float64(time.Hour)) }

// Over says why a check counts no more for a drop of a day, if so. What was counted for days
// before yesterday is history, and stays.
func (s *Shift) Over(c *Content, day gear.Date) string {
	if age := s.At.Sub(c.DoneAt()); day >= s.Today.AddDays(-1) && age > s.length() {
		return fmt.Sprintf("it was done %.1f h ago, and counts for %v of a shift", age.Hours(), s.Hours)
	}
	return ""
}

// Until is how long a check counts for a drop of a day; nil where it is history, or counts no
// more.
func (s *Shift) Until(c *Content, day gear.Date) *time.Time {
	if day < s.Today.AddDays(-1) || s.Over(c, day) != "" {
		return nil
	}
	until := c.DoneAt().Add(s.length())
	return &until
}

// Counts reports whether a check counts for a drop of a day: of that day, or of the evening
// before in a shift that goes on past midnight.
func (s *Shift) Counts(c *Content, day gear.Date) bool {
	return c.Day == day || day == s.Today && c.Day == day.AddDays(-1) && s.Over(c, day) == ""
}
