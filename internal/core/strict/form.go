package strict

import (
	"reflect"
	"strings"
)

// A FormField is a field as a form asks for it, in the order in which its struct has it:
// made from the tags by which it is read, so that no field is listed twice.
type FormField struct {
	Name string `json:"name"`
	// Words is its name without its unit, Unit the unit.
	Words string `json:"words"`
	Unit  string `json:"unit,omitempty"`
	Kind  string `json:"kind" enum:"text,number,whole,flag,choice,date,object,list,table,either"`
	// Of is the kind of each entry of a list.
	Of       string      `json:"of,omitempty" doc:"of a list: the kind of its entries"`
	Doc      string      `json:"doc,omitempty"`
	Required bool        `json:"required,omitempty"`
	Choices  []string    `json:"choices,omitempty"`
	Minimum  *float64    `json:"minimum,omitempty"`
	Above    *float64    `json:"above,omitempty" doc:"must be more than this"`
	Maximum  *float64    `json:"maximum,omitempty"`
	Longest  int         `json:"longest,omitempty" doc:"characters at most"`
	ID       bool        `json:"id,omitempty" doc:"an id: lower-case letters, digits and hyphens"`
	Fields   []FormField `json:"fields,omitempty" doc:"of an object, or of each entry of a list"`
}

// Form describes the fields of a struct.
func Form[T any]() []FormField { return form(reflect.TypeFor[T]()) }

func form(t reflect.Type) (list []FormField) {
	for i := range t.NumField() {
		sf := t.Field(i)
		f, ok := makeField(sf, i)
		if !ok {
			continue
		}
		stem := Stem(f.name)
		o := FormField{
			Name: f.name, Words: strings.ReplaceAll(stem, "_", " "), Unit: strings.ReplaceAll(strings.TrimPrefix(strings.TrimPrefix(f.name, stem), "_"), "_", "/"),
			Doc: sf.Tag.Get("doc"), Required: f.required, Choices: f.limits.enum, Minimum: f.limits.min, Above: f.limits.exclusiveMin, Maximum: f.limits.max, ID: f.limits.id,
		}
		o.Kind = kindOf(sf.Type, &f.limits)
		elem := sf.Type
		for elem.Kind() == reflect.Pointer || elem.Kind() == reflect.Slice {
			elem = elem.Elem()
		}
		if o.Kind == "list" {
			o.Of = kindOf(elem, &f.limits)
		}
		if o.Kind == "text" || o.Of == "text" {
			o.Longest = f.limits.maxLen
		}
		if o.Kind == "object" || o.Of == "object" {
			o.Fields = form(elem)
		}
		list = append(list, o)
	}
	return list
}

// kindOf is how a form asks for a type.
func kindOf(t reflect.Type, l *limits) string {
	switch t.Kind() {
	case reflect.Pointer:
		return kindOf(t.Elem(), l)
	case reflect.Slice:
		return "list"
	case reflect.Map:
		return "table"
	case reflect.Struct:
		if t.Implements(unionType) {
			return "either"
		}
		return "object"
	case reflect.Bool:
		return "flag"
	case reflect.Float64:
		return "number"
	case reflect.String:
		switch {
		case l.enum != nil:
			return "choice"
		case l.date:
			return "date"
		}
		return "text"
	}
	return "whole"
}
