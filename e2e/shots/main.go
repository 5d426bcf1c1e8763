// Command shots takes the pictures of docs/screenshots from the demo town.
package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"fairlap/e2e/harness"
)

func main() {
	dir := flag.String("dir", "docs/screenshots", "folder for the pictures")
	flag.Parse()
	if err := run(*dir); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

func run(dir string) error {
	town, err := harness.Start()
	if err != nil {
		return err
	}
	defer harness.End()
	defer town.Stop()
	b, quit, err := harness.Browser()
	if err != nil {
		return err
	}
	defer quit()
	save := func(p *rod.Page, name string) {
		time.Sleep(700 * time.Millisecond)
		if err := harness.Save(p, filepath.Join(dir, name+".png"), false); err != nil {
			panic(err)
		}
	}
	in := func(size proto.EmulationSetDeviceMetricsOverride) *rod.Page {
		p := town.Page(b, "/", size).Timeout(4 * time.Minute)
		p.MustElement("#as-technician").MustClick()
		p.MustElement("#tour-skip").MustClick()
		p.MustElement("#go-on")
		return p
	}
	bench := func(p *rod.Page, street string) {
		p.MustElementR("#stops a", street).MustClick()
		p.MustElement("#demo-read").MustClick()
		p.MustElement("[data-suspect]")
		time.Sleep(time.Second)
	}
	list := filepath.Join(os.TempDir(), "customers-oct.csv")
	if err := os.WriteFile(list, []byte(customers), 0o600); err != nil {
		return fmt.Errorf("writing the list: %w", err)
	}
	defer os.Remove(list)
	return rod.Try(func() {
		p := in(harness.Desktop)
		save(p, "lap")
		bench(p, "14 Quince Court")
		save(p, "bench")
		work(p, "#run-read")
		work(p, `[data-step="wash-clear"]`)
		time.Sleep(4 * time.Second)
		save(p, "run")
		p.MustNavigate(town.URL + "/").MustWaitLoad()
		bench(p, "40 Fennel Walk")
		p.MustElement("#to-record").MustClick()
		p.MustElement(".pool-record .log tbody tr")
		save(p, "pool")
		p.MustNavigate(town.URL + "/pools").MustWaitLoad()
		p.MustElement(".pools tbody tr")
		save(p, "pools")
		p.MustNavigate(town.URL + "/parts").MustWaitLoad()
		p.MustElement(".parts-table")
		save(p, "parts")
		p.MustNavigate(town.URL + "/pools").MustWaitLoad()
		pool := town.URL + *p.MustElementR(".pools a", "61 Tamarack Street").MustAttribute("href")
		p.MustNavigate(pool + "/paths").MustWaitLoad()
		p.MustElement(`[data-set="drain"]`).MustEval("() => { this.click() }")
		p.MustElement(`[data-hazard="spa-drains"]`)
		save(p, "paths")
		p.MustNavigate(pool + "/due").MustWaitLoad()
		p.MustElement("[data-due]")
		save(p, "due")
		p.MustNavigate(town.URL + "/week").MustWaitLoad()
		p.MustElement(".week-day")
		save(p, "week")
		p.MustNavigate(pool + "/pad").MustWaitLoad()
		p.MustElement(".pad-preview #speeds")
		save(p, "pad")
		p.MustNavigate(pool + "/plan").MustWaitLoad()
		p.MustElement("#plan-says")
		save(p, "plan")
		p.MustNavigate(pool + "/papers/report").MustWaitLoad()
		p.MustElement(".paper h2")
		save(p, "report")
		p.MustNavigate(town.URL + "/practice").MustWaitLoad()
		practise(p, func() { save(p, "practice") })
		p.MustElement("#practice-replay svg")
		p.MustElement("#debrief-costs").MustScrollIntoView()
		save(p, "debrief")
		desk := town.Page(b, "/", harness.Desktop).Timeout(4 * time.Minute)
		desk.MustElement("#as-office").MustClick()
		desk.MustElement("#tour-skip").MustClick()
		desk.MustElement("#company-over li")
		save(desk, "company")
		desk.MustNavigate(town.URL + "/import").MustWaitLoad()
		desk.MustElement(`input[type="file"]`).MustSetFiles(list)
		desk.MustElement("#import-preview")
		save(desk, "import")
		phone := in(harness.Phone)
		phone.MustNavigate(pool + "/inspection").MustWaitLoad()
		inspect(phone, func() { save(phone, "inspection-phone") })
		phone.MustNavigate(town.URL + "/").MustWaitLoad()
		// The first stop has a run begun on the other device by now.
		bench(phone, "61 Tamarack Street")
		phone.MustEval("() => window.scrollTo(0, 0)")
		save(phone, "bench-phone")
		phone.MustNavigate(town.URL + "/").MustWaitLoad()
		bench(phone, "5 Bayberry Close")
		work(phone, "#run-read")
		work(phone, "#run-confirm")
		save(phone, "run-phone")
	})
}

// practise works a case, the wrong way first, to its end.
func practise(p *rod.Page, look func()) {
	turn := 0
	act := func(selector string) {
		p.MustElement(selector).MustEval("() => { this.click() }")
		turn++
		p.MustWait(`(n) => document.querySelector("[data-turn]")?.dataset.turn === String(n)`, turn)
	}
	tap := func(selector string) { p.MustElement(selector).MustEval("() => { this.click() }") }
	tap(`[data-mode="beside"]`)
	tap(`[data-case="as-dirty-as-it-looks"] button`)
	p.MustElement(`[data-turn="0"]`)
	act("#practice-read")
	p.MustElement("[data-suspect]")
	look()
	tap(`[data-part="work"]`)
	act(`[data-run="backwash"] button`)
	tap("#fix-return-restricted .ant-collapse-header")
	act(`[data-mend="return-restricted"]`) // stood ready
	act(`[data-mend="return-restricted"]`)
	act("#practice-restore")
	tap("#practice-leave")
	tap(".ant-popconfirm-buttons .ant-btn-primary")
}

// work starts the cleaning that the bench offers, or goes on with it, until
// something is on the page.
func work(p *rod.Page, until string) {
	tap := func(selector string) { p.MustElement(selector).MustEval("() => { this.click() }") }
	has := func(selector string) bool { return p.MustHas(selector) }
	if !has(".frame.run") {
		if !has(".sec-work [data-start]") {
			p.MustElement(`label[for="other-work"]`).MustScrollIntoView()
			p.MustElement("#other-work").MustElementByJS(`() => this.closest(".ant-select")`).MustClick()
			p.MustElementR(".ant-select-item-option", "^Hose off the cartridge$").MustClick()
		}
		tap(".sec-work [data-start]")
		tap("#run-start")
		p.MustElement("[data-step]")
	}
	for range 60 {
		if has(until) {
			return
		}
		at := *p.MustElement("[data-step]").MustAttribute("data-step")
		switch {
		case has("#run-read"):
			tank := "17"
			if at == "after" {
				tank = "10"
			}
			for field, v := range map[string]string{"speed": "2400", "tank": tank} {
				if in := p.MustElement("#run-" + field); in.MustProperty("value").
					String() ==
					"" { // the bench's is there already
					in.MustInput(v)
				}
			}
			tap("#run-read")
		case has("#run-confirm"):
			tap("#run-confirm")
		case has("#run-early-open"):
			tap("#run-early-open")
			p.MustElement("#run-early").MustInput("a picture has no time")
			tap(".run-now .run-chief[data-option]")
		case has(".run-ans-btn.run-chief"):
			tap(".run-ans-btn.run-chief")
		default:
			tap(".run-go[data-option]")
		}
		p.MustElement(`.run-end, .run-now:not([data-step="` + at + `"])`)
	}
}

// inspect walks an inspection and closes it; seen is called half-way.
func inspect(p *rod.Page, seen func()) {
	tap := func(selector string) { p.MustElement(selector).MustEval("() => { this.click() }") }
	tap("#insp-start")
	// at goes from place to place until an item is there.
	at := func(item string) {
		here := `[data-item="` + item + `"]`
		p.MustElement("#insp-places")
		for _, place := range p.MustElements("#insp-places [data-place]") {
			if p.MustHas(here) {
				break
			}
			place.MustEval("() => { this.click() }")
			time.Sleep(200 * time.Millisecond)
		}
		p.MustElement(here)
	}
	for item, v := range map[string]string{"drain-year": "2029", "straight-run": "11", "gauge-rest": "0"} {
		at(item)
		p.MustElement("#insp-" + item).MustInput(v)
	}
	for _, item := range []string{"drain-covers", "two-suctions", "threads", "valves"} {
		at(item)
		tap(`[data-item="` + item + `"] [data-yes="true"]`)
	}
	for _, item := range []string{"supports", "rcd"} {
		at(item)
		tap(`[data-item="` + item + `"] [data-yes="false"]`)
	}
	p.MustElement(`[data-finding="rcd"]`)
	at("straight-run")
	p.MustElement(`[data-item="straight-run"]`).MustEval("() => { this.scrollIntoView() }")
	time.Sleep(time.Second)
	seen()
	tap("#insp-close")
	tap("#insp-close-sure")
	p.MustElement("#insp-report")
}

// customers is a made-up list, some rows of which need a look.
const customers = `Customer Name,Svc Address,City,ST,Zip,Phone 1,Svc Day,Tech,Gals,Balance
Alma Rourke,22 Alder Run,Cedar Hollow,AZ,00412,555-0170,Mon,Mateo,15000,$85.00
Bea Lindqvist,5 Heron Reach,Cedar Hollow,AZ,00412,555-0172,Wed,Mateo,22000,$85.00
Dana Marsh,9 Alder Run,Cedar Hollow,AZ,00412,555-0171,Tu/Th,Mateo,18000,$85.00
Ines Calder,41 Fern Hill,Cedar Hollow,AZ,00413,555-0178,Mon,Mateo,1800O,$85.00
Paul Greene,,Cedar Hollow,AZ,00413,555-0179,Wed,Mateo,12000,$85.00
`
