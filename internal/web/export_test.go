package web

import (
	"github.com/google/uuid"

	"zealousknot/internal/store"
)

// Told gives what pages that listen get to hear: quick ones take everything at once, slow
// ones nothing until the end.
func Told(quick, slow, changes int) (heard [][]store.Change) {
	var l listeners
	team := uuid.New()
	var pages []chan store.Change
	for range quick + slow {
		pages = append(pages, l.add(team))
	}
	heard = make([][]store.Change, len(pages))
	for range changes {
		l.tell(team, store.Change{Records: true})
		for i, ch := range pages[:quick] {
			heard[i] = append(heard[i], <-ch)
		}
	}
	for i, ch := range pages {
		for len(ch) > 0 {
			heard[i] = append(heard[i], <-ch)
		}
	}
	return heard
}
