package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// photoTypes are the kinds of pictures that are kept.
var photoTypes = []string{"image/jpeg", "image/webp"}

// registerPhotos declares pictures that records name, and what incidents were about.
func registerPhotos(api huma.API, c *Config) {
	put := operation(http.MethodPut, "put-photo", "/photos/{sum}", "Send a picture that a record will name; at most 200 kB, scaled down on the device")
	put.MaxBodyBytes = store.MaxPhoto + 1 // what is a byte too long is read, and refused by its size
	put.SkipValidateBody = true
	put.Errors = append(put.Errors, http.StatusUnsupportedMediaType)
	content := map[string]*huma.MediaType{}
	for _, kind := range photoTypes {
		content[kind] = &huma.MediaType{Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}}
	}
	put.RequestBody = &huma.RequestBody{Required: true, Content: content}
	huma.Register(api, put, c.putPhoto)
	delete(content, "application/octet-stream")
	get := operation(http.MethodGet, "photo", "/photos/{sum}", "A picture that a record names")
	get.Responses = map[string]*huma.Response{"200": {Description: "OK", Content: content}}
	huma.Register(api, get, c.photo)
	huma.Register(api, operation(http.MethodGet, "frozen", "/records/{number}/frozen", "What an incident was about, as it was when it was recorded"), c.frozen)
}

type sumIn struct {
	Sum string `path:"sum" maxLength:"64" doc:"SHA-256 of the picture, 64 figures of base 16"`
}

type photoIn struct {
	Sum     string `path:"sum" maxLength:"64" doc:"SHA-256 of the picture, 64 figures of base 16"`
	RawBody []byte
}

// putPhoto keeps a picture under its sum; sent again it is there once.
func (c *Config) putPhoto(ctx context.Context, in *photoIn) (*struct{}, error) {
	i, kind := who(ctx), http.DetectContentType(in.RawBody)
	sum := sha256.Sum256(in.RawBody)
	switch {
	case !slices.Contains(photoTypes, kind):
		return nil, NewProblem(http.StatusUnsupportedMediaType, "a picture is a JPEG or a WebP file")
	case hex.EncodeToString(sum[:]) != in.Sum:
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/path/sum", Detail: "is not the sum of this picture"}}})
	}
	err := c.Store.AddPhoto(ctx, i.Team.ID, i.Account, &store.Photo{Type: kind, Body: in.RawBody})
	if errors.Is(err, store.ErrTooLarge) {
		return nil, NewProblem(http.StatusRequestEntityTooLarge, err.Error())
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type photoOut struct {
	ContentType string `header:"Content-Type"`
	Cache       string `header:"Cache-Control"`
	Body        []byte
}

// photo never changes: its name is its sum.
func (c *Config) photo(ctx context.Context, in *sumIn) (*photoOut, error) {
	p, err := c.Store.Photo(ctx, who(ctx).Team.ID, in.Sum)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &photoOut{p.Type, "private, max-age=31536000, immutable", p.Body}, nil
}

type numberIn struct {
	Number int64 `path:"number" minimum:"1"`
}

type frozenOut struct{ Body *record.Frozen }

func (c *Config) frozen(ctx context.Context, in *numberIn) (*frozenOut, error) {
	f, err := c.Store.Frozen(ctx, who(ctx).Team.ID, in.Number)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &frozenOut{f}, nil
}
