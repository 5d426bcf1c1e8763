package api

import (
	"context"
	"fmt"
	"html"
	"net/http"
	"regexp"
	"strings"

	"github.com/google/uuid"

	"fairlap/core/words"
	"fairlap/internal/app/access"
)

// aheadPlaceholder stands in the built page where the answers are named that its first view
// asks for.
const aheadPlaceholder = "<!--ahead-->"

// stopPage is the address of a stop, whose answer has the same.
var stopPage = regexp.MustCompile(`^/stops/[0-9a-f-]{36}$`)

// ahead names what the page's first view will ask for, so that it comes while the scripts
// do: who is here, and for somebody signed in the stop that the page is about.
func (a *API) ahead(r *http.Request) string {
	const link = `<link rel="preload" as="fetch" crossorigin href="/api/v1%s">`
	links := fmt.Sprintf(link, "/me")
	if _, err := r.Cookie(a.sessions.Cookie.Name); err == nil && stopPage.MatchString(r.URL.Path) {
		links += fmt.Sprintf(link, r.URL.Path)
	}
	return links
}

// firstPlaceholder stands in the built page where it says what its reader came for, until
// its first view is drawn: a slow phone takes a second for that.
const firstPlaceholder = "<!--first-->"

// first is what a page says before its scripts do: at a stop where it is and what to do, on
// Today where the day leads. Empty where that is not known, or nobody is signed in.
func (a *API) first(r *http.Request) string {
	stop, atStop := strings.CutPrefix(r.URL.Path, "/stops/")
	token, err := r.Cookie(a.sessions.Cookie.Name)
	if err != nil || !atStop && r.URL.Path != "/" {
		return ""
	}
	ctx, err := a.sessions.Load(r.Context(), token.Value)
	if err != nil {
		return "" // the record can't be reached: the page comes all the same
	}
	who, err := a.actor(ctx)
	if err != nil {
		return ""
	}
	if !atStop {
		return a.firstOfLap(ctx, who)
	}
	id, err := uuid.Parse(stop)
	if err != nil {
		return ""
	}
	bench, err := a.service.Visit.Bench(ctx, who, id)
	if err != nil {
		return "" // the view says why
	}
	return saying(who, bench.Pool.Street, bench.Verdict.Text)
}

func (a *API) firstOfLap(ctx context.Context, who access.Actor) string {
	if who.Role != access.Technician {
		return ""
	}
	lap, err := a.service.Route.Lap(ctx, who, "", "")
	if err != nil {
		return ""
	}
	var streets []string
	for _, s := range lap.Stops {
		streets = append(streets, s.Street)
	}
	return saying(who, who.Printer.Say("api.first-of-lap"), words.Named(strings.Join(streets, " · ")))
}

func saying(who access.Actor, head string, text words.Message) string {
	p := who.Printer
	return fmt.Sprintf(`<div class="first" lang="%s"><p>%s</p><b>%s</b></div>`,
		p.Lang, html.EscapeString(head), html.EscapeString(p.Say(text)))
}
