package main

import (
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/go-rod/rod"

	"fairlap/e2e/harness"
)

func main() {
	town, err := harness.Start()
	if err != nil { panic(err) }
	defer harness.End()
	defer town.Stop()
	b, quit, err := harness.Browser()
	if err != nil { panic(err) }
	defer quit()
	save := func(p *rod.Page, name string, full bool) {
		time.Sleep(600 * time.Millisecond)
		if err := harness.Save(p, filepath.Join("/tmp/look", name+".png"), full); err != nil { panic(err) }
	}
	size := harness.Phone
	if len(os.Args) > 2 && os.Args[2] == "desktop" { size = harness.Desktop }
	role := "technician"
	p := town.Page(b, "/", size).Timeout(90 * time.Second)
	p.MustElement("#as-" + role).MustClick()
	p.MustElement("#go-on")
	time.Sleep(time.Second)
	scene(os.Args[1], town, p, save)
}

func tap(p *rod.Page, s string) { p.MustElement(s).MustEval("() => { this.click() }") }

func through(p *rod.Page, until string) {
	for range 80 {
		time.Sleep(80 * time.Millisecond)
		if p.MustHas(".run-end") { return }
		at := *p.MustElement("[data-step]").MustAttribute("data-step")
		if at == until { return }
		fmt.Println(at, p.MustElement(".ask, .lock-say").MustText())
		if p.MustHas("#run-early-open") {
			tap(p, "#run-early-open"); p.MustElement("#run-early").MustInput("look")
		}
		switch {
		case p.MustHas("#run-read"):
			for f, v := range map[string]string{"speed": "2400", "tank": "17"} {
				if p.MustElement("#run-"+f).MustProperty("value").String() == "" { p.MustElement("#run-" + f).MustInput(v) }
			}
			tap(p, "#run-read")
		case p.MustHas("#run-confirm"):
			tap(p, "#run-confirm")
		case p.MustHas("#run-timer"):
			tap(p, "#run-timer"); time.Sleep(2500 * time.Millisecond); tap(p, ".now .main[data-option]")
		default:
			tap(p, ".now .main[data-option]")
		}
		p.MustElement(`.run-end, .now:not([data-step="` + at + `"])`)
	}
}

func openStop(p *rod.Page, street string) {
	p.MustElementR("a", street).MustEval("() => { this.click() }")
	p.MustElement("#other-work option[value]")
	time.Sleep(700 * time.Millisecond)
}

func start(p *rod.Page, id string, full bool) {
	p.MustElement("#other-work option[value='" + id + "']")
	p.MustElement("#other-work").MustEval(`(v) => { Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(this, v); this.dispatchEvent(new Event("change", { bubbles: true })) }`, id)
	tap(p, `[data-start="`+id+`"]`)
	if full && p.MustHas("#run-form") { tap(p, "#run-form label:last-child input") }
}

func scene(name string, town *harness.Town, p *rod.Page, save func(*rod.Page, string, bool)) {
	switch name {
	case "runs":
		openStop(p, "Quince Court 14")
		start(p, "baskets", false)
		save(p, "start-baskets", false)
		tap(p, "#run-start")
		p.MustElement("[data-step]")
		through(p, "basket")
		save(p, "baskets-basket", false)
		through(p, "re-steady"); through(p, "")
		save(p, "baskets-end", true)
	case "close":
		openStop(p, "Tamarack Street 61")
		start(p, "season-close", true)
		tap(p, "#run-start"); p.MustElement("[data-step]")
		through(p, "heat-flow")
		through(p, "down")
		save(p, "close-down", false)
		through(p, "")
	case "de":
		openStop(p, "Tamarack Street 61")
		start(p, "tear-down", true)
		save(p, "de-start", true)
		tap(p, "#run-start"); p.MustElement("[data-step]")
		through(p, "degreasing")
		save(p, "de-degreasing", false)
		through(p, "keep")
		save(p, "de-keep", true)
		through(p, "")
		save(p, "de-end", true)
	}
}
