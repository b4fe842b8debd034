package store

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"zealousknot/internal/archive"
	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/day"
	"zealousknot/internal/core/drill"
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/run"
	"zealousknot/internal/store/sqlc"
)

func (i *importing) boards() error {
	count := 0
	return i.copied(archive.Boards, "boards", []string{"team_id", "day", "version", "document", "changed_at", "changed_by_name"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedBoard)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		version, err := revised(v.Version)
		b, bad := day.Read(v.Document)
		if err = errors.Join(err, bad); err != nil {
			return nil, err
		}
		return []any{i.id, toDate(b.Day), version, string(v.Document), v.ChangedAt, v.ByName}, nil
	})
}

func (i *importing) preplans() error {
	count := 0
	return i.copied(archive.Preplans, "preplans", []string{"team_id", "id", "version", "document", "changed_at", "changed_by_name"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedPreplan)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		version, err := revised(v.Version)
		_, bad := callout.ReadPreplan(v.Document)
		return []any{i.id, v.ID, version, string(v.Document), v.ChangedAt, v.ByName}, errors.Join(err, bad)
	})
}

func (i *importing) classes() error {
	count := 0
	return i.copied(archive.Classes, "classes", []string{"team_id", "id", "version", "document", "changed_at", "changed_by_name"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedPreplan)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		id, wrong := uuid.Parse(v.ID)
		version, err := revised(v.Version)
		_, bad := drill.ReadClass(v.Document)
		return []any{i.id, id, version, string(v.Document), v.ChangedAt, v.ByName}, errors.Join(wrong, err, bad)
	})
}

func (i *importing) marks() error {
	count := 0
	return i.copied(archive.Marks, "marks", []string{"team_id", "id", "by_id", "by_name", "person_id", "class_id", "listed", "skill", "score", "exercise", "answer", "mark", "at"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedMark)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		_, err := drill.Read([]byte(v.Exercise))
		if err == nil && (v.Score < 0 || v.Score > 1 || !json.Valid([]byte(v.Answer)) || !json.Valid([]byte(v.Mark))) {
			err = errors.New("it is no mark")
		}
		return []any{i.id, v.ID, v.By, v.ByName, v.Person, v.Class, v.Listed, v.Skill, v.Score, v.Exercise, v.Answer, v.Mark, v.At}, err
	})
}

// practices are what the records say that stand.
func (i *importing) practices() error {
	return wrong(sqlc.New(i.tx).PracticesOfRecords(i.ctx, i.id))
}

// callouts come after the runs that they became.
func (i *importing) callouts() error {
	count := 0
	return i.copied(archive.Callouts, "callouts", []string{"team_id", "id", "document", "changed_at", "changed_by_name", "run_id"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedCallout)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		_, err := callout.Read(v.Document)
		return []any{i.id, v.ID, string(v.Document), v.ChangedAt, v.ByName, v.Run}, err
	})
}

// runs come with their events, as they were given; a run whose plan has another sum than the
// one in its document is refused.
func (i *importing) runs() error {
	count := 0
	err := i.copied(archive.Runs, "runs", []string{"team_id", "id", "drop_id", "day", "document", "released", "sum", "phase", "by_id", "by_name", "at"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedRun)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		d, err := run.Read([]byte(v.Document))
		if err != nil {
			return nil, err
		}
		sum := sha256.Sum256([]byte(v.Released))
		if hex.EncodeToString(sum[:]) != d.Plan {
			return nil, errors.New("the plan is not the one that the run was made from")
		}
		return []any{i.id, v.ID, v.Drop, toDate(v.Day), v.Document, v.Released, sum[:], v.Phase, v.By, v.ByName, v.At}, nil
	})
	if err != nil {
		return err
	}
	err = i.copied(archive.Events, "run_events", []string{"team_id", "run_id", "id", "content", "by_id", "at"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedEvent)
		err := json.Unmarshal(data, v)
		return []any{i.id, v.Run, v.ID, v.Content, v.By, v.At}, err
	})
	if err != nil {
		return err
	}
	return i.copied(archive.Readings, "readings", []string{"team_id", "run_id", "channel", "count", "body"}, &count, func(data []byte) ([]any, error) {
		v := new(archivedReadings)
		if err := json.Unmarshal(data, v); err != nil {
			return nil, err
		}
		points, err := run.Unpack(v.Body)
		if err == nil && len(points) != int(v.Count) {
			err = errors.New("there are not as many readings as it says")
		}
		return []any{i.id, v.Run, v.Channel, v.Count, v.Body}, err
	})
}

// drops keeps every version again in its order, as it was kept then: the database notes each
// by itself.
func (i *importing) drops() error {
	type version struct {
		number int
		sum    [sha256.Size]byte
	}
	last := map[string]version{}
	err := i.in.Lines(archive.Versions, func(data []byte) error {
		v := new(archivedDrop)
		if err := json.Unmarshal(data, v); err != nil {
			return err
		}
		i.got.Versions++
		was := last[v.Drop].number
		if v.Version != was+1 {
			return fmt.Errorf("version %d of %s does not follow the one before it", v.Version, v.Drop)
		}
		if err := i.keep(v, was > 0); err != nil {
			return err
		}
		last[v.Drop] = version{v.Version, sha256.Sum256(text(v))}
		return nil
	})
	if err != nil {
		return wrong(err)
	}
	for _, name := range i.in.Drops() {
		now := new(archivedDrop)
		if err := i.in.JSON(name, loose(now)); err != nil {
			return wrong(err)
		}
		if archive.Drop(now.Drop) != name || last[now.Drop].sum != sha256.Sum256(text(now)) {
			return fmt.Errorf("%w: %s: it is not the last version of the drop", ErrArchive, name)
		}
		delete(last, now.Drop)
		i.got.Drops++
	}
	// What was removed is kept in its versions alone.
	for id := range last {
		if _, err := i.tx.Exec(i.ctx, "DELETE FROM drops WHERE team_id = $1 AND id = $2", i.id, id); err != nil {
			return err
		}
	}
	return nil
}

func (i *importing) keep(v *archivedDrop, there bool) error {
	version, err := revised(v.Version)
	if err != nil {
		return err
	}
	if _, err := drop.ReadKept(v.Document); err != nil {
		return err
	}
	statement := "INSERT INTO drops (team_id, id, name, version, changed_at, changed_by, changed_by_name, document) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)"
	if there {
		statement = "UPDATE drops SET name = $3, version = $4, changed_at = $5, changed_by = $6, changed_by_name = $7, document = $8 WHERE team_id = $1 AND id = $2"
	}
	_, err = i.tx.Exec(i.ctx, statement, i.id, v.Drop, v.Name, version, v.ChangedAt, v.By, v.ByName, string(v.Document))
	return refused(err)
}

// photos keeps the pictures that records name.
func (i *importing) photos() error {
	columns := []string{"team_id", "sum", "type", "body", "by_id", "at"}
	return i.copied(archive.Photos, "photos", columns, &i.got.Photos, func(data []byte) ([]any, error) {
		var v archivedPhoto
		err := json.Unmarshal(data, &v)
		sum, ok := photoSum(v.Sum)
		if err == nil && (!ok || sha256.Sum256(v.Body) != sum) {
			err = fmt.Errorf("%q is not the sum of this picture", v.Sum)
		}
		return []any{i.id, sum[:], v.Type, v.Body, v.By, v.At}, err
	})
}
