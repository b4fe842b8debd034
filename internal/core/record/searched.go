package record

import (
	"encoding/json"
	"slices"
)

// A Subject is a thing that a record is about.
type Subject struct{ Kind, ID string }

// Searched is by what a record is found, read from what it says.
type Searched struct {
	Day, Drop, Item, Person, Corrects string
	// Subjects are the things that it is about, each once.
	Subjects []Subject
}

// recalls is the name under which recalls and what answers them are found.
func recalls(kind string) string {
	if k := Kind(kind); k == RecallNotice || k == Acknowledgement {
		return "recall"
	}
	return ""
}

// ReadSearched reads it from a record's content; what else the content says is passed over.
func ReadSearched(content []byte) (*Searched, error) {
	var said struct {
		Day      string `json:"day"`
		Drop     string `json:"drop"`
		Item     string `json:"item"`
		Person   string `json:"person"`
		Corrects string `json:"corrects"`
		Paper    struct {
			By string `json:"by"`
		} `json:"paper"`
		Check struct {
			Rope string `json:"rope"`
		} `json:"check"`
		Worn struct {
			Items []struct {
				Item string `json:"item"`
			} `json:"items"`
		} `json:"worn"`
		Familiar struct {
			Model string `json:"model"`
		} `json:"familiar"`
		Kit struct {
			Kit   string   `json:"kit"`
			Items []string `json:"items"`
		} `json:"kit"`
		Examined struct {
			Batch string `json:"batch"`
		} `json:"examined"`
		Kind   string `json:"kind"`
		Recall struct {
			Model string `json:"model"`
		} `json:"recall"`
		Cut struct {
			Into string `json:"into"`
		} `json:"cut"`
		Rope struct {
			With string `json:"with"`
		} `json:"rope"`
		Frozen struct {
			People []struct {
				ID string `json:"id"`
			} `json:"people"`
			Items []struct {
				ID string `json:"id"`
			} `json:"items"`
		} `json:"frozen"`
		Affected []string `json:"affected"`
		Missing  []string `json:"missing"`
		Change   struct {
			Rows []struct {
				Kind string `json:"kind"`
				ID   string `json:"id"`
			} `json:"rows"`
		} `json:"change"`
	}
	if err := json.Unmarshal(content, &said); err != nil {
		return nil, err
	}
	s := &Searched{Day: said.Day, Drop: said.Drop, Item: said.Item, Person: said.Person, Corrects: said.Corrects, Subjects: make([]Subject, 0, 4)}
	for _, one := range [...]Subject{{"drop", said.Drop}, {"item", said.Item}, {"item", said.Check.Rope}, {"item", said.Cut.Into}, {"item", said.Rope.With}, {"model", said.Familiar.Model}, {"person", said.Person}, {"person", said.Paper.By}, {"kit", said.Kit.Kit}, {"batch", said.Examined.Batch}, {"model", said.Recall.Model}, {"recall", recalls(said.Kind)}} {
		if one.ID != "" && !slices.Contains(s.Subjects, one) {
			s.Subjects = append(s.Subjects, one)
		}
	}
	for _, id := range slices.Concat(said.Kit.Items, said.Missing, said.Affected) {
		if one := (Subject{"item", id}); !slices.Contains(s.Subjects, one) {
			s.Subjects = append(s.Subjects, one)
		}
	}
	for _, i := range said.Frozen.Items {
		if one := (Subject{"item", i.ID}); !slices.Contains(s.Subjects, one) {
			s.Subjects = append(s.Subjects, one)
		}
	}
	for _, w := range said.Worn.Items {
		if one := (Subject{"item", w.Item}); !slices.Contains(s.Subjects, one) {
			s.Subjects = append(s.Subjects, one)
		}
	}
	for _, p := range said.Frozen.People {
		if one := (Subject{"person", p.ID}); !slices.Contains(s.Subjects, one) {
			s.Subjects = append(s.Subjects, one)
		}
	}
	for _, r := range said.Change.Rows {
		s.Subjects = append(s.Subjects, Subject{r.Kind, r.ID})
	}
	return s, nil
}
