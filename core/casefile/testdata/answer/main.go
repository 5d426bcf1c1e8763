// Command answer judges the cases on its standard input, one a line, and prints the
// answers, one a line: the same program runs as wasm in a test.
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"strings"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
)

func main() {
	in := bufio.NewScanner(os.Stdin)
	in.Buffer(nil, 4<<20)
	for in.Scan() {
		c, errs := casefile.Read(strings.NewReader(in.Text()))
		if len(errs) > 0 {
			panic(errs[0])
		}
		asked, err := c.Engine()
		if err != nil {
			panic(err)
		}
		r, err := diagnosis.Diagnose(asked)
		if err != nil {
			panic(err)
		}
		b, _ := json.Marshal(casefile.Write(r))
		fmt.Println(string(b))
	}
}
