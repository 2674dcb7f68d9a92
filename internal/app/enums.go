package app

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"zestytin/core/batch"
	"zestytin/core/family"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// The API's lists of families and of what chocolates do are those of core, which alone knows them.
type (
	familyName string
	roleName   string
	motifName  string
)

func (familyName) Schema(huma.Registry) *huma.Schema { return enum(family.All()) }

func (roleName) Schema(huma.Registry) *huma.Schema { return enum(treat.Roles()) }

func (motifName) Schema(huma.Registry) *huma.Schema { return enum(batch.Motifs()) }

func enum[T ~string](list []T) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString}
	for _, x := range list {
		s.Enum = append(s.Enum, string(x))
	}
	return s
}

// enums tells the API what stands for a type of core.
func enums(r huma.Registry) {
	web.Sentences(r)
	r.RegisterTypeAlias(reflect.TypeFor[treat.Family](), reflect.TypeFor[familyName]())
	r.RegisterTypeAlias(reflect.TypeFor[batch.Motif](), reflect.TypeFor[motifName]())
	r.RegisterTypeAlias(reflect.TypeFor[treat.Role](), reflect.TypeFor[roleName]())
}
