package browser_test

import (
	"testing"

	"zealousknot/internal/web"
)

// A list whose drops the server has not looked at yet says so, and asks until all are counted.
func TestNotCountedYet(t *testing.T) {
	house := serve(t)
	house.site = web.Handler(t.Context(), &web.Config{Store: house.store, Version: "test", Demo: true, LookFor: 1})
	p := house.browse(t, "dov", "/")
	p.says("[data-uncounted]", "not counted yet")
	p.gone("[data-uncounted]")
	p.says("main", "8 stops")
}
