package api

import (
	"bytes"
	_ "embed"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"fairlap/internal/app/access"
)

//go:embed contract.html
var contractPage string

var contractTemplate = template.Must(template.New("contract").Parse(contractPage))

// The contract as its page shows it.
type (
	contractTag struct {
		Name  string
		Calls []contractCall
	}
	contractCall struct {
		ID, Method, Path, Summary, Roles, Statuses string
		Takes, Gives                               template.HTML
		Params                                     []contractField
	}
	contractField struct {
		Name, Where, Doc string
		Type             template.HTML
	}
	contractShape struct {
		Name, Doc string
		Fields    []contractField
	}
)

// contract serves the contract to read; it tells nothing that the file does not.
func (a *API) contract(version string) gin.HandlerFunc {
	doc := a.huma.OpenAPI()
	tags, shapes := contractTags(doc), contractShapes(doc)
	return func(c *gin.Context) {
		nonce, _ := c.Request.Context().Value(nonceKey).(string)
		var page bytes.Buffer
		if err := contractTemplate.Execute(&page,
			map[string]any{"Version": version, "Nonce": nonce, "Tags": tags, "Shapes": shapes}); err != nil {
			a.log.ErrorContext(c.Request.Context(), "the contract's page", "error", err)
			writeProblem(c.Request.Context(), c.Writer, http.StatusInternalServerError, somethingBroke)
			return
		}
		c.Data(http.StatusOK, "text/html; charset=utf-8", page.Bytes())
	}
}

func contractTags(doc *huma.OpenAPI) []contractTag {
	by := map[string][]contractCall{}
	for path, item := range doc.Paths {
		for method, op := range map[string]*huma.Operation{"GET": item.Get, "POST": item.Post, "PUT": item.Put,
			"DELETE": item.Delete} {
			if op == nil {
				continue
			}
			call := contractCall{
				ID:       op.OperationID,
				Method:   method,
				Path:     path,
				Summary:  op.Summary,
				Statuses: strings.Join(slices.Sorted(maps.Keys(op.Responses)), ", "),
			}
			if roles, ok := op.Metadata[rolesKey].([]access.Role); ok {
				names := make([]string, len(roles))
				for i, r := range roles {
					names[i] = string(r)
				}
				call.Roles = strings.Join(names, ", ")
			}
			for _, p := range op.Parameters {
				call.Params = append(
					call.Params,
					contractField{Name: p.Name, Where: p.In, Type: typeName(p.Schema), Doc: p.Description},
				)
			}
			if op.RequestBody != nil {
				call.Takes = contentOf(op.RequestBody.Content)
			}
			for _, status := range []string{"200", "201", "204"} {
				if r := op.Responses[status]; r != nil {
					call.Gives = contentOf(r.Content)
				}
			}
			by[op.Tags[0]] = append(by[op.Tags[0]], call)
		}
	}
	var out []contractTag
	for _, name := range slices.Sorted(maps.Keys(by)) {
		calls := by[name]
		slices.SortFunc(calls, func(a, b contractCall) int { return strings.Compare(a.Path+a.Method, b.Path+b.Method) })
		out = append(out, contractTag{name, calls})
	}
	return out
}

func contentOf(content map[string]*huma.MediaType) template.HTML {
	names := slices.Sorted(maps.Keys(content))
	if len(names) == 0 {
		return ""
	}
	if s := content[names[0]].Schema; s != nil && names[0] == "application/json" {
		return typeName(s)
	}
	return template.HTML(template.HTMLEscapeString(names[0])) // #nosec G203: escaped
}

func contractShapes(doc *huma.OpenAPI) []contractShape {
	all := doc.Components.Schemas.Map()
	var out []contractShape
	for _, name := range slices.Sorted(maps.Keys(all)) {
		s := all[name]
		shape := contractShape{Name: name, Doc: s.Description}
		for _, field := range slices.Sorted(maps.Keys(s.Properties)) {
			p := s.Properties[field]
			said := p.Description
			if p.Ref == "" && len(p.Examples) > 0 {
				said = strings.TrimSpace(fmt.Sprintf("%s For example %v.", said, p.Examples[0]))
			}
			shape.Fields = append(shape.Fields, contractField{Name: field, Type: typeName(p), Doc: said})
		}
		out = append(out, shape)
	}
	return out
}

// typeName is what a schema asks for, in a few words; shapes are links.
func typeName(s *huma.Schema) template.HTML {
	esc := template.HTMLEscapeString
	if s == nil {
		return ""
	}
	var text string
	switch {
	case s.Ref != "":
		name := esc(s.Ref[strings.LastIndex(s.Ref, "/")+1:])
		text = fmt.Sprintf(`<a href="#shape-%s">%s</a>`, name, name)
	case s.Type == huma.TypeArray:
		text = "list of " + string(typeName(s.Items))
	case len(s.Enum) > 0:
		var of []string
		for _, e := range s.Enum {
			of = append(of, fmt.Sprintf("<code>%s</code>", esc(fmt.Sprint(e))))
		}
		text = strings.Join(of, " or ")
	case s.Format != "":
		text = esc(s.Type + " (" + s.Format + ")")
	default:
		text = esc(s.Type)
	}
	if s.Nullable {
		text += " or null"
	}
	return template.HTML(text) // #nosec G203: every part is escaped
}
