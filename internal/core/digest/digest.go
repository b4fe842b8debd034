// Package digest names values by everything that is in them, for the keys of caches:
// two values have one name only where no field of them, exported or not, differs. It
// leaves nothing out; what it cannot read it refuses.
package digest

import (
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"math"
	"reflect"
	"slices"
)

// Sum is the SHA-256 over the whole of some values.
type Sum [sha256.Size]byte

// Of gives the digest of values, through pointers, slices and maps with keys of strings
// or whole numbers. It panics on functions, channels, interfaces that hold a pointer
// twice around, and whatever else has no content of its own: that is a fault of the
// program, not of its input.
func Of(values ...any) Sum {
	w := writer{buf: make([]byte, 0, 1<<14)}
	for _, v := range values {
		w.write(reflect.ValueOf(v), 0)
	}
	return sha256.Sum256(w.buf)
}

// writer gathers the text of values; each is written with its kind and length, so that
// no two have the same text.
type writer struct{ buf []byte }

// maxDepth stops at values that contain themselves.
const maxDepth = 64

func (w *writer) number(kind byte, v uint64) {
	w.buf = binary.AppendUvarint(append(w.buf, kind), v)
}

func (w *writer) text(s string) {
	w.number('s', uint64(len(s)))
	w.buf = append(w.buf, s...)
}

func (w *writer) write(v reflect.Value, depth int) {
	if depth > maxDepth {
		panic("digest: a value contains itself")
	}
	depth++
	switch v.Kind() {
	case reflect.Invalid:
		w.number('0', 0)
	case reflect.Bool:
		b := uint64(0)
		if v.Bool() {
			b = 1
		}
		w.number('b', b)
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		w.number('i', uint64(v.Int()))
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64, reflect.Uintptr:
		w.number('u', v.Uint())
	case reflect.Float32, reflect.Float64:
		w.number('f', math.Float64bits(v.Float()))
	case reflect.String:
		w.text(v.String())
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			w.number('0', 0)
			return
		}
		if v.Kind() == reflect.Interface {
			w.text(v.Elem().Type().String())
		}
		w.number('p', 0)
		w.write(v.Elem(), depth)
	case reflect.Slice, reflect.Array:
		w.number('a', uint64(v.Len()))
		for i := range v.Len() {
			w.write(v.Index(i), depth)
		}
	case reflect.Struct:
		w.number('t', uint64(v.NumField()))
		for i := range v.NumField() {
			w.write(v.Field(i), depth)
		}
	case reflect.Map:
		w.pairs(v, depth)
	default:
		panic(fmt.Sprintf("digest: %v has no content", v.Type()))
	}
}

// pairs writes a map whatever its order: its pairs are sorted by their text.
func (w *writer) pairs(v reflect.Value, depth int) {
	list := make([]string, 0, v.Len())
	for it := v.MapRange(); it.Next(); {
		var pair writer
		pair.write(it.Key(), depth)
		pair.write(it.Value(), depth)
		list = append(list, string(pair.buf))
	}
	slices.Sort(list)
	w.number('m', uint64(len(list)))
	for _, pair := range list {
		w.text(pair)
	}
}
