package main

import (
	"context"
	"fmt"
	"os"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"fairlap/e2e/harness"
)

func must(err error) { if err != nil { fmt.Println(err); os.Exit(1) } }

func main() {
	town, err := harness.Start(context.Background()); must(err)
	defer town.Stop()
	b, quit, err := harness.Browser(); must(err)
	defer quit()
	err = rod.Try(func() {
	for name, size := range map[string]proto.EmulationSetDeviceMetricsOverride{"d": harness.Desktop, "p": harness.Phone} {
		p := town.Page(b, "/", size).Timeout(90 * time.Second)
		p.MustElement("#as-technician").MustClick()
		p.MustElement("#go-on")
		shot := func(n string, whole bool) { time.Sleep(900*time.Millisecond); must(harness.Save(p, "/tmp/shots/"+n+"-"+name+".png", whole)) }
		p.MustNavigate(town.URL + "/pools").MustWaitLoad()
		href := *p.MustElementR(".pools a", "Tamarack").MustAttribute("href")
		p.MustNavigate(town.URL + href + "/paths").MustWaitLoad()
		p.MustElement(".would")
		shot("paths", false)
		p.MustElement(`[data-set="drain"]`).MustEval("() => {this.click()}")
		p.MustElement(`[data-hazard="spa-drains"]`)
		shot("paths-drain", name == "p")
		p.MustNavigate(town.URL + href + "/limits").MustWaitLoad()
		p.MustElement(".limit-table")
		shot("limits", false)
		p.MustNavigate(town.URL + href + "/clean-line").MustWaitLoad()
		p.MustElement(".walk-chart"); for i,r := range [][2]string{{"3,5","24"},{"7.5","36"},{"16","47"}} { p.MustElement(fmt.Sprintf("#walk-%d-tank",i)).MustInput(r[0]); p.MustElement(fmt.Sprintf("#walk-%d-flow",i)).MustInput(r[1]) }; time.Sleep(time.Second)
		shot("walk", false)
		p.MustNavigate(town.URL + href + "/pad").MustWaitLoad()
		p.MustElement(".pad-drawing")
		shot("pad", false)
		p.MustNavigate(town.URL + "/pools/new").MustWaitLoad()
		p.MustElement("#least-pump").MustSelect("Brisk 150 VS"); p.MustElement("#least-filter").MustSelect("Stanchion S24"); p.MustElement("#least-length").MustInput("40"); p.MustElement(".pad-preview .twin")
		shot("new", false)
	}
	})
	must(err)
}
