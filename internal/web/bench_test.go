package web

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"reflect"
	"testing"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
)

type echoOut struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

type documentIO struct {
	Body drop.Document
}

// BenchmarkPost sends the demo drop through the whole stack, to the check and to
// two handlers that only echo it: the bytes as they came, and the document read
// and written by the framework.
func BenchmarkPost(b *testing.B) {
	r := stack(func(h http.Handler) http.Handler { return h })
	api := NewAPI(r)
	c := &Config{}
	Register(api, c)
	Rights["echo"], Rights["echo-document"], Rights["check"] = open, open, open
	post(api, "echo", "/echo", "Echo", reflect.TypeFor[drop.Document](), func(_ context.Context, in *rawIn) (*echoOut, error) {
		return &echoOut{"application/json", in.RawBody}, nil
	})
	huma.Register(api, operation(http.MethodPost, "echo-document", "/echo-document", "Echo"), func(_ context.Context, in *documentIO) (*documentIO, error) {
		return in, nil
	})
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		b.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan error)
	go func() { ended <- Serve(ctx, l, r) }()
	defer func() {
		stop()
		if err := <-ended; err != nil {
			b.Error(err)
		}
	}()
	body, err := json.Marshal(demo.Drops()["face-4"])
	if err != nil {
		b.Fatal(err)
	}
	for name, path := range map[string]string{"check": "/check", "echo-bytes": "/echo", "echo-document": "/echo-document"} {
		b.Run(name, func(b *testing.B) {
			b.SetBytes(int64(len(body)))
			for b.Loop() {
				answer, err := http.Post("http://"+l.Addr().String()+"/api/v1"+path, "application/json", bytes.NewReader(body))
				if err != nil || answer.StatusCode != http.StatusOK {
					b.Fatal(answer, err)
				}
				if _, err := io.Copy(io.Discard, answer.Body); err != nil {
					b.Fatal(err)
				}
				answer.Body.Close()
			}
		})
	}
}
