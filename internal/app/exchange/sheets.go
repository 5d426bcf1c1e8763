package exchange

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/visit"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// The tables that go out as spreadsheets and come in again. A column's unit stands in
// its name; docs/formats.md says what each holds.
var (
	poolColumns = []string{
		"street",
		"town",
		"which",
		"customer",
		"phone",
		"email",
		"volume_gal",
		"surface",
		"ground",
		"weekday",
		"technician",
		"minutes",
		"lap_order",
		"lat",
		"lon",
		"access_note",
		"season_opens",
		"season_closes",
		"since",
		"pump",
		"filter",
		"heater",
		"cell",
		"pipe_in",
		"length_ft",
		"spa",
		"pad",
	}
	partColumns = []string{
		"street",
		"kind",
		"model",
		"serial",
		"installed_on",
		"expected_years",
		"warranty_until",
		"cost",
		"part_of",
	}
	visitColumns = []string{
		"visit",
		"street",
		"technician",
		"arrived_at",
		"closed_at",
		"cleaned",
		"chemicals_at",
		"confirmed",
		"confirmed_how",
		"note",
		"works",
		"signs",
		"prime_s",
		"drain_s",
	}
	readingColumns = []string{"visit", "phase", "setting", "rpm", "tank_psi", "vacuum_inhg", "flow_gpm", "power_w"}
)

// sheetTables are the tables in the order in which they go out and come in.
var sheetTables = []struct {
	name    string
	columns []string
}{{"pools", poolColumns}, {"equipment", partColumns}, {"visits", visitColumns}, {"readings", readingColumns}}

// minuteLayout is how a time stands in a spreadsheet, in the company's zone.
const minuteLayout = "2006-01-02 15:04"

// cell values: nil is an empty cell.
func text(s string) any {
	if s == "" {
		return nil
	}
	return s
}

// rounded is a figure with few decimals: what was typed, not what the machine made of it.
func rounded(v float64, digits int) any {
	p := math.Pow(10, float64(digits))
	return math.Round(v*p) / p
}

func figureCell(v *float64, digits int) any {
	if v == nil {
		return nil
	}
	return rounded(*v, digits)
}

func yesNo(v bool) any {
	if v {
		return "yes"
	}
	return "no"
}

func dayCell(t *time.Time) any {
	if t == nil {
		return nil
	}
	return t.Format(time.DateOnly)
}

// poolCells is a pool's row.
func poolCells(p *store.Pool, who store.Customer, login string, pl *store.Plumbing) ([]any, error) {
	var opening company.Season
	if err := json.Unmarshal(p.Cleaning, &opening); err != nil {
		return nil, fmt.Errorf("the choices of %s: %w", p.Name(), err)
	}
	var doc pad.Document
	if err := json.Unmarshal(pl.Document, &doc); err != nil {
		return nil, fmt.Errorf("the pad of %s: %w", p.Name(), err)
	}
	padText, err := json.Marshal(doc)
	if err != nil {
		return nil, fmt.Errorf("writing the pad of %s: %w", p.Name(), err)
	}
	model := func(d *pad.Device) any {
		if d == nil {
			return nil
		}
		return text(d.Model)
	}
	ground := "in"
	if !p.InGround {
		ground = "above"
	}
	return []any{
		p.Street,
		text(p.Town),
		text(p.Which),
		text(who.Name),
		text(who.Phone),
		text(who.Email),
		rounded(units.Volume(p.VolumeM3).Gallons(), 1),
		text(p.Surface),
		ground,
		strings.ToLower(time.Weekday(p.Weekday).String()),
		text(login),
		p.BaseMinutes,
		p.LapOrder,
		figureCell(
			p.Lat,
			6,
		),
		figureCell(p.Lon, 6),
		text(p.AccessNote),
		text(opening.Opens),
		text(opening.Closes),
		p.OnRecordSince.Format(time.DateOnly),
		text(
			doc.Pump.Model,
		),
		text(doc.Filter.Model),
		model(doc.Heater),
		model(doc.Cell),
		rounded(nominal(doc.SuctionTrunk.BoreIn), 3),
		rounded(lengthOf(&doc), 1),
		yesNo(doc.Spa != nil),
		string(padText),
	}, nil
}

// nominal is the size that a bore is sold as, where it is one of a known size.
func nominal(bore float64) float64 {
	for size, b := range pad.Bores {
		if math.Abs(b-bore) < 1e-6 {
			return size
		}
	}
	return bore
}

func lengthOf(d *pad.Document) float64 {
	if len(d.Suction) == 0 {
		return 0
	}
	return d.Suction[0].LengthFt
}

func partCells(street string, e *store.Equipment, parent string) []any {
	return []any{
		street,
		e.Kind,
		text(e.Model),
		text(e.Serial),
		dayCell(e.InstalledOn),
		figureCell(e.ExpectedYears, 2),
		dayCell(e.WarrantyUntil),
		figureCell(equipment.Money(e.CostCents), 2),
		text(parent),
	}
}

func minute(c company.Company, t *time.Time) any {
	if t == nil {
		return nil
	}
	return t.In(c.Zone).Format(minuteLayout)
}

func visitCells(c company.Company, v *store.Visit, street, login string) []any {
	var works, signs []string
	for _, w := range v.Works {
		works = append(works, strings.TrimSuffix(w.Kind+": "+strings.ReplaceAll(w.Note, ";", ","), ": "))
	}
	for _, g := range v.Signs {
		signs = append(signs, g.Sign+"="+yesNo(g.Yes).(string))
	}
	slices.Sort(signs)
	return []any{
		v.ID.String(),
		street,
		text(login),
		minute(c, &v.ArrivedAt),
		minute(c, &v.ClosedAt),
		yesNo(v.Cleaned),
		minute(c, v.ChemicalsAt),
		text(v.Confirmed),
		text(v.ConfirmedHow),
		text(v.Note),
		text(
			strings.Join(works, "; "),
		),
		text(strings.Join(signs, "; ")),
		figureCell(v.PrimeS, 1),
		figureCell(v.DrainS, 1),
	}
}

func readingCells(of uuid.UUID, r *store.VisitReading) []any {
	t := visit.TradeRow(*r)
	return []any{
		of.String(),
		r.Phase,
		r.Setting,
		rounded(r.SpeedRPM, 0),
		figureCell(t.TankPsi, 2),
		figureCell(t.VacuumInHg, 2),
		figureCell(t.FlowGPM, 2),
		figureCell(t.PowerW, 1),
	}
}

// exportBatch is how many pools are in hand at a time while a spreadsheet is written.
const exportBatch = 50

// ExportSheets writes the named tables (all for none) into a spreadsheet, some pools at
// a time. CSV takes one table.
func (s *Service) ExportSheets(
	ctx context.Context,
	a access.Actor,
	tables []string,
	format string,
	out io.Writer,
) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	if len(tables) == 0 {
		for _, t := range sheetTables {
			tables = append(tables, t.name)
		}
	}
	for _, name := range tables {
		if !slices.ContainsFunc(sheetTables, func(t struct {
			name    string
			columns []string
		}) bool {
			return t.name == name
		}) {
			return figure.Wrong("table", "app.choose-pools-equipment-visits-or")
		}
	}
	w := sheet.XLSX(out)
	if format == "csv" {
		if len(tables) != 1 {
			return figure.Wrong("table", "app.a-csv-file-holds-one")
		}
		w = sheet.CSV(out)
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return err
	}
	people, err := s.keeper.Store.Everybody(ctx)
	if err != nil {
		return fmt.Errorf("listing the people: %w", err)
	}
	logins := map[uuid.UUID]string{}
	for _, u := range people {
		logins[u.ID] = u.Login
	}
	pools, err := s.keeper.Store.AllPools(ctx)
	if err != nil {
		return fmt.Errorf("listing the pools: %w", err)
	}
	for _, t := range sheetTables {
		if !slices.Contains(tables, t.name) {
			continue
		}
		if err := w.Begin(t.name, t.columns); err != nil {
			return err
		}
		for from := 0; from < len(pools); from += exportBatch {
			if err := s.exportSome(ctx, c, t.name, pools[from:min(from+exportBatch, len(pools))], logins,
				w); err != nil {
				return fmt.Errorf("writing %s: %w", t.name, err)
			}
		}
	}
	return w.Close()
}

func (s *Service) exportSome(
	ctx context.Context,
	c company.Company,
	table string,
	pools []store.Pool,
	logins map[uuid.UUID]string,
	w sheet.Writer,
) error {
	ids := make([]uuid.UUID, len(pools))
	for i := range pools {
		ids[i] = pools[i].ID
	}
	switch table {
	case "pools":
		rows, err := s.poolRows(ctx, pools, logins)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if err := w.Row(r); err != nil {
				return err
			}
		}
	case "equipment":
		parts, err := s.keeper.Store.EquipmentOf(ctx, ids...)
		if err != nil {
			return err
		}
		for _, p := range pools {
			kinds := map[uuid.UUID]string{}
			for _, e := range parts[p.ID] {
				kinds[e.ID] = e.Kind
			}
			for _, e := range parts[p.ID] {
				parent := ""
				if e.PartOf != nil {
					parent = kinds[*e.PartOf]
				}
				if err := w.Row(partCells(p.Name(), &e, parent)); err != nil {
					return err
				}
			}
		}
	default:
		visits, err := s.keeper.Store.VisitsOf(ctx, ids)
		if err != nil {
			return err
		}
		for _, p := range pools {
			for i := range visits[p.ID] {
				v := &visits[p.ID][i]
				if table == "visits" {
					if err := w.Row(visitCells(c, v, p.Name(), logins[v.TechnicianID])); err != nil {
						return err
					}
					continue
				}
				for k := range v.Readings {
					if err := w.Row(readingCells(v.ID, &v.Readings[k])); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

// poolRows are the rows of pools, in their order.
func (s *Service) poolRows(ctx context.Context, pools []store.Pool, logins map[uuid.UUID]string) ([][]any, error) {
	ids := make([]uuid.UUID, len(pools))
	var customers []uuid.UUID
	for i := range pools {
		ids[i] = pools[i].ID
		if pools[i].CustomerID != nil {
			customers = append(customers, *pools[i].CustomerID)
		}
	}
	records, err := s.keeper.Store.PoolRecords(ctx, ids)
	if err != nil {
		return nil, err
	}
	who, err := s.keeper.Store.Customers(ctx, customers)
	if err != nil {
		return nil, err
	}
	out := make([][]any, len(pools))
	for i := range pools {
		p := &pools[i]
		var customer store.Customer
		if p.CustomerID != nil {
			customer = who[*p.CustomerID]
		}
		login := ""
		if p.TechnicianID != nil {
			login = logins[*p.TechnicianID]
		}
		if out[i], err = poolCells(p, customer, login, &records[p.ID].Plumbing); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// cellText is a cell as it reads in a file.
func cellText(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return v
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	default:
		return fmt.Sprint(v)
	}
}
