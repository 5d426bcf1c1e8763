package speedplan

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestATariffIsRead(t *testing.T) {
	tariff, wrong := ReadTariff(strings.NewReader("from,to,price_per_kwh\n21,16:30,0.11\n16:30,21,\"0,38\"\n"))
	require.Empty(t, wrong)
	for hour, want := range map[int]float64{0: 0.11, 15: 0.11, 16: 0.245, 17: 0.38, 20: 0.38, 21: 0.11} {
		price, ok := tariff.At(hour)
		assert.True(t, ok)
		assert.InDelta(t, want, price, 1e-9, "at %d", hour)
	}
	for message, text := range map[string]string{
		"names the columns": "a,b\n", "not an hour of the day": "from,to,price_per_kwh\nnoon,16,0.1\n", "A price between": "from,to,price_per_kwh\n0,24,dear\n",
		"No price covers 4:00 PM–6:00 PM": "from,to,price_per_kwh\n18,16,0.1\n", "has no prices": "from,to,price_per_kwh\n",
	} {
		_, wrong := ReadTariff(strings.NewReader(text))
		require.NotEmpty(t, wrong, message)
		assert.Contains(t, say(wrong[0].Text), message)
	}
}

func FuzzReadTariff(f *testing.F) {
	f.Add("from,to,price_per_kwh\n0,24,0.1\n")
	f.Add("from,to,price_per_kwh\n25:99,-1,NaN\n")
	f.Fuzz(func(t *testing.T, text string) {
		tariff, wrong := ReadTariff(strings.NewReader(text))
		if len(wrong) > 0 {
			return
		}
		for h := range 24 {
			price, ok := tariff.At(h)
			assert.True(t, ok)
			assert.False(t, math.IsNaN(price))
		}
	})
}
