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

	"zealousknot/internal/core/drop"
	"zealousknot/internal/demo"
)

type echoOut struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

// BenchmarkPost sends the demo drop through the whole stack, to the check and to
// a handler that only echoes it; the target is a ratio below 3.
func BenchmarkPost(b *testing.B) {
	r := stack()
	api := NewAPI(r)
	c := &Config{}
	Register(api, c)
	post(api, "echo", "/echo", "Echo", reflect.TypeFor[drop.Document](), func(_ context.Context, in *rawIn) (*echoOut, error) {
		return &echoOut{"application/json", in.RawBody}, nil
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
	for name, path := range map[string]string{"check": "/check", "echo": "/echo"} {
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
