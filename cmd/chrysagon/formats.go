package main

import (
	"encoding/json"
	"fmt"
	"os"
	"path"
	"path/filepath"
	"reflect"
	"strings"
	"time"

	"chrysagon/core/followup"
	"chrysagon/core/goods"

	"github.com/invopop/jsonschema"
	"github.com/shopspring/decimal"
	"github.com/spf13/cobra"
)

// formatsCommand writes the schemas of the open formats from the types that
// read them. It is for those who build the program: run in its source folder.
func formatsCommand() *cobra.Command {
	return &cobra.Command{
		Use: "formats FOLDER", Short: "Write the JSON Schemas of the formats", Hidden: true, Args: cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			for name, of := range formats {
				raw, err := schemaOf(name, of)
				if err != nil {
					return err
				}
				if err := os.WriteFile(filepath.Join(args[0], name+".schema.json"), raw, 0o644); err != nil { //nolint:gosec // documentation, for everybody to read
					return fmt.Errorf("write a schema: %w", err)
				}
			}
			return nil
		},
	}
}

// schemaOf describes a type as JSON Schema, with the comments of its fields.
func schemaOf(name string, of any) ([]byte, error) {
	r := &jsonschema.Reflector{Mapper: mapped, Namer: named, RequiredFromJSONSchemaTags: false}
	for _, folder := range []string{"./core", "./cmd/chrysagon"} {
		if err := r.AddGoComments("chrysagon", folder, jsonschema.WithFullComment()); err != nil {
			return nil, fmt.Errorf("read the comments: %w", err)
		}
	}
	s := r.Reflect(of)
	s.ID = jsonschema.ID("https://chrysagon.invalid/formats/" + name + ".schema.json")
	s.Title = strings.TrimSuffix(strings.TrimSuffix(name, ".in"), ".out")
	raw, err := json.MarshalIndent(s, "", "  ")
	return append(raw, '\n'), err
}

// named tells two types of one name apart by their packages: the tables of tax
// and of shipping.
func named(t reflect.Type) string {
	of := path.Base(t.PkgPath())
	if of == "main" || of == "chrysagon" || t.Name() == "" {
		return t.Name()
	}
	return strings.ToUpper(of[:1]) + of[1:] + t.Name()
}

// decimals is how a percentage is written as text.
const decimals = `^-?[0-9]{1,15}(\.[0-9]{1,12})?$`

// mapped says how types with a JSON of their own are written, and which values
// types have that have few.
func mapped(t reflect.Type) *jsonschema.Schema {
	switch t {
	case reflect.TypeFor[decimal.Decimal]():
		return &jsonschema.Schema{OneOf: []*jsonschema.Schema{{Type: "string", Pattern: decimals}, {Type: "number"}}}
	case reflect.TypeFor[goods.Value]():
		return &jsonschema.Schema{OneOf: []*jsonschema.Schema{{Type: "number"}, {Type: "string", MaxLength: ptr(uint64(goods.MaxValue))}, {Type: "boolean"}}}
	case reflect.TypeFor[followup.Only]():
		var words []string
		for _, what := range followup.Forks {
			words = append(words, string(what))
		}
		return &jsonschema.Schema{Type: "string", Pattern: "^((not_)?(" + strings.Join(words, "|") + ")(:.+)?)?$"}
	case reflect.TypeFor[time.Time]():
		return &jsonschema.Schema{Type: "string", Format: "date-time"}
	}
	if values := enums[t]; values != nil {
		s := &jsonschema.Schema{Type: "string"}
		for _, v := range values {
			s.Enum = append(s.Enum, v)
		}
		return s
	}
	return nil
}

func ptr[T any](v T) *T { return &v }
