package digest_test

import (
	"reflect"
	"testing"

	"zealousknot/internal/core/digest"
)

type inner struct {
	a int8
	b []string
}

type outer struct {
	n    float64
	p    *inner
	m    map[string]int
	list [2]inner
	any  any
	on   bool
}

func sample() outer {
	return outer{n: 1.5, p: &inner{1, []string{"x", "yz"}}, m: map[string]int{"k": 1, "l": 2}, list: [2]inner{{2, nil}, {3, []string{""}}}, any: "text"}
}

// Equal values have one digest, wherever they are kept and in whatever order a map gives
// its pairs; a change of any field, exported or not, gives another.
func TestDigest(t *testing.T) {
	same := digest.Of(sample())
	for range 20 {
		if digest.Of(sample()) != same {
			t.Fatal("equal values have two digests")
		}
	}
	seen := map[digest.Sum]string{same: "nothing"}
	for name, change := range map[string]func(*outer){
		"number": func(o *outer) { o.n = 1.5000001 }, "through a pointer": func(o *outer) { o.p.a = 2 }, "nil": func(o *outer) { o.p = nil },
		"map value": func(o *outer) { o.m["k"] = 2 }, "map key": func(o *outer) { delete(o.m, "l"); o.m["j"] = 2 }, "map values swapped": func(o *outer) { o.m = map[string]int{"k": 2, "l": 1} },
		"where texts part": func(o *outer) { o.p.b = []string{"xy", "z"} }, "empty text": func(o *outer) { o.list[1].b = nil }, "order": func(o *outer) { o.list[0], o.list[1] = o.list[1], o.list[0] },
		"interface's type": func(o *outer) { o.any = []byte("text") }, "flag": func(o *outer) { o.on = true },
	} {
		o := sample()
		change(&o)
		if was, known := seen[digest.Of(o)]; known {
			t.Errorf("%s has the digest of %s", name, was)
		}
		seen[digest.Of(o)] = name
	}
	type ring struct{ next *ring }
	r := &ring{}
	r.next = r
	for _, v := range []any{r, func() {}, make(chan int)} {
		func() {
			defer func() {
				if recover() == nil {
					t.Errorf("%v has a digest", reflect.TypeOf(v))
				}
			}()
			digest.Of(v)
		}()
	}
}
