package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

type versionsOut struct {
	ETag string `header:"ETag"`
	Body struct {
		Versions []store.Version `json:"versions"`
		Removed  bool            `json:"removed,omitempty" doc:"the drop was removed; a version that is restored brings it back"`
	}
}

type versionsIn struct {
	ID     string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Before int    `query:"before" minimum:"0" maximum:"2147483647" doc:"only versions before this one; 0: from the last on"`
}

// versions lists those of a drop, a page at a time. The ETag is what restoring asks for.
func (c *Config) versions(ctx context.Context, in *versionsIn) (*versionsOut, error) {
	last, err := c.Store.Versions(ctx, who(ctx).Team.ID, in.ID, 0, 1)
	if err != nil {
		return nil, failed(ctx, err)
	}
	list, err := c.Store.Versions(ctx, who(ctx).Team.ID, in.ID, in.Before, most)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &versionsOut{ETag: etag(last[0].Version)}
	out.Body.Versions = list
	if _, err := c.Store.Drop(ctx, who(ctx).Team.ID, in.ID); errors.Is(err, store.ErrNotFound) {
		out.Body.Removed = true
	} else if err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

type versionIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Version int    `path:"version" minimum:"1" maximum:"2147483647"`
}

func (c *Config) version(ctx context.Context, in *versionIn) (*dropOut, error) {
	d, err := c.dropAt(ctx, in.ID, in.Version)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &dropOut{etag(d.Version), d.Document}, nil
}

// dropAt is a drop as it was saved, with what is the team's now.
func (c *Config) dropAt(ctx context.Context, id string, version int) (*store.Drop, error) {
	d, err := c.Store.DropAt(ctx, who(ctx).Team.ID, id, version)
	if err != nil {
		return nil, err
	}
	return d, c.Store.Present(ctx, who(ctx).Team, d)
}

type restoreIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Version int    `path:"version" minimum:"1" maximum:"2147483647"`
	IfMatch string `header:"If-Match" doc:"the ETag of the last version, as the list of versions gives it"`
}

// restore saves an earlier version as the newest; of a drop that was removed it makes the
// drop again.
func (c *Config) restore(ctx context.Context, in *restoreIn) (*savedOut, error) {
	last, err := ifMatch(in.IfMatch)
	if err != nil {
		return nil, err
	}
	d, err := c.dropAt(ctx, in.ID, in.Version)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := d.Document.Validate(); err != nil {
		return nil, failed(ctx, err)
	}
	team := who(ctx).Team
	version, err := c.Store.SaveDrop(ctx, team, signer(ctx), in.ID, last, d.Document)
	if errors.Is(err, store.ErrNotFound) {
		version, err = c.Store.BringBack(ctx, team.ID, signer(ctx), in.ID, last, d.Document)
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	return saved(in.ID, version), nil
}

type dropChangesIn struct {
	ID      string `path:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$"`
	Version int    `path:"version" minimum:"1" maximum:"2147483647"`
	Since   int    `query:"since" minimum:"0" maximum:"2147483647" doc:"the earlier version; 0: the one before"`
}

type dropChangesOut struct {
	Body struct {
		Since   int      `json:"since" doc:"0: this is the first version"`
		Changes []string `json:"changes"`
	}
}

// dropChanges says in words what changed from an earlier version to this one.
func (c *Config) dropChanges(ctx context.Context, in *dropChangesIn) (*dropChangesOut, error) {
	since := cmp.Or(in.Since, in.Version-1)
	if since > in.Version {
		why := strict.Fault{Pointer: "/query/since", Detail: fmt.Sprintf("is no version before %d", in.Version)}
		return nil, NewProblem(http.StatusUnprocessableEntity, "the versions are the wrong way round", why)
	}
	now, err := c.dropAt(ctx, in.ID, in.Version)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := new(dropChangesOut)
	out.Body.Since, out.Body.Changes = since, []string{}
	if since == 0 {
		return out, nil
	}
	then, err := c.dropAt(ctx, in.ID, since)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if out.Body.Changes, err = drop.Differences(then.Document, now.Document); err != nil {
		return nil, failed(ctx, err)
	}
	return out, nil
}

type removedDropsOut struct {
	Body struct {
		Drops []store.RemovedDrop `json:"drops"`
	}
}

func (c *Config) removedDrops(ctx context.Context, _ *struct{}) (*removedDropsOut, error) {
	list, err := c.Store.RemovedDrops(ctx, who(ctx).Team.ID, most)
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := new(removedDropsOut)
	out.Body.Drops = list
	return out, nil
}
