package web

import (
	"bytes"
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/archive"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// maxArchiveBytes is the largest archive that is taken in by screen; the command takes
// larger ones.
const maxArchiveBytes = 64 << 20

// registerArchive declares the whole team out and in.
func (c *Config) registerArchive(api huma.API) {
	file(api, "export-archive", "/archive", "Everything of the team in one file, but for who signs in", "application/zip", c.exportArchive)
	o := operation(http.MethodPost, "import-archive", "/archive", "Make a team of an archive, with its records as they were sealed; whoever takes it in is its supervisor")
	o.MaxBodyBytes = maxArchiveBytes
	o.RequestBody = &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/zip": {Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}}}}
	huma.Register(api, o, heavy(c, c.importArchive))
	delete(o.RequestBody.Content, "application/octet-stream")
}

func (c *Config) exportArchive(ctx context.Context, _ *struct{}) (*fileOut, error) {
	var b bytes.Buffer
	i := who(ctx)
	if err := c.Store.Export(ctx, i.Team, &b, time.Now(), is(i, Supervisor) && is(i, Trainer)); err != nil {
		return nil, failed(ctx, err)
	}
	return attached("team.zip", &b), nil
}

type archiveIn struct {
	Name    string `query:"name" maxLength:"80" doc:"shown instead of the name that the team had"`
	DryRun  bool   `query:"dry_run" doc:"write nothing"`
	RawBody []byte
}

type archiveOut struct {
	Body struct {
		Team    string         `json:"team" doc:"name of the team"`
		Counts  archive.Counts `json:"counts"`
		Chain   archive.End    `json:"chain" doc:"the last record of the archive"`
		Written bool           `json:"written"`
	}
}

func (c *Config) importArchive(ctx context.Context, in *archiveIn) (*archiveOut, error) {
	about, err := c.Store.Import(ctx, bytes.NewReader(in.RawBody), int64(len(in.RawBody)), store.Import{Name: in.Name, Try: in.DryRun, By: signer(ctx)})
	switch {
	case errors.Is(err, store.ErrArchive):
		return nil, NewProblem(http.StatusUnprocessableEntity, "the archive was refused; nothing was changed", strict.Fault{Detail: err.Error()})
	case errors.Is(err, store.ErrExists):
		return nil, NewProblem(http.StatusConflict, err.Error()+"; nothing was changed")
	case err != nil:
		return nil, failed(ctx, err)
	}
	out := &archiveOut{}
	out.Body.Team, out.Body.Counts, out.Body.Chain, out.Body.Written = about.Team.Name, about.Counts, about.Chain, !in.DryRun
	return out, nil
}
