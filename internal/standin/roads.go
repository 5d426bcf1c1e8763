package standin

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"sync"

	"gonum.org/v1/gonum/graph/path"
	"gonum.org/v1/gonum/graph/simple"

	"fairlap/core/lap"
)

// roadMap is the made-up town's streets: lines that meet where they share a point.
//
//go:embed roads.geojson
var roadMap []byte

// townMph is how fast one gets along in the town.
const townMph = 22

// Town is its road network.
type Town struct {
	Corners []lap.Place
	Lines   [][][2]float64 // of the streets, degrees east and north
	between path.AllShortest
	beside  sync.Map // corner by place, once looked for
}

// RoadMap reads the town's streets.
func RoadMap() (*Town, error) {
	var file struct {
		Features []struct {
			Geometry struct {
				Coordinates [][2]float64 `json:"coordinates"`
			} `json:"geometry"`
		} `json:"features"`
	}
	if err := json.Unmarshal(roadMap, &file); err != nil {
		return nil, fmt.Errorf("reading the road map: %w", err)
	}
	t := &Town{}
	ids := map[[2]float64]int64{}
	g := simple.NewWeightedUndirectedGraph(0, math.Inf(1))
	for _, f := range file.Features {
		t.Lines = append(t.Lines, f.Geometry.Coordinates)
		for i, at := range f.Geometry.Coordinates {
			if _, ok := ids[at]; !ok {
				ids[at] = int64(len(t.Corners))
				t.Corners = append(t.Corners, lap.Place{Lon: at[0], Lat: at[1]})
			}
			if i > 0 {
				from, to := ids[f.Geometry.Coordinates[i-1]], ids[at]
				g.SetWeightedEdge(
					g.NewWeightedEdge(simple.Node(from), simple.Node(to), crow(t.Corners[from], t.Corners[to])),
				)
			}
		}
	}
	t.between = path.DijkstraAllPaths(g)
	return t, nil
}

// crow is the straight distance, miles.
func crow(a, b lap.Place) float64 {
	const mile = 69.1 // of a degree of latitude
	return mile * math.Hypot((b.Lon-a.Lon)*math.Cos(a.Lat*math.Pi/180), b.Lat-a.Lat)
}

// Way is the way along the streets from one place's nearest corner to the other's.
func (t *Town) Way(from, to lap.Place) lap.Way {
	a, b := t.nearest(from), t.nearest(to)
	miles := crow(from, t.Corners[a]) + t.between.Weight(int64(a), int64(b)) + crow(t.Corners[b], to)
	if from == to {
		miles = 0
	}
	return lap.Way{Miles: miles, Minutes: lap.Park + miles/townMph*60}
}

func (t *Town) nearest(p lap.Place) int {
	if at, ok := t.beside.Load(p); ok {
		return at.(int)
	}
	best := 0
	for i := range t.Corners {
		if crow(p, t.Corners[i]) < crow(p, t.Corners[best]) {
			best = i
		}
	}
	t.beside.Store(p, best)
	return best
}
