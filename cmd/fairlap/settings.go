package main

import (
	"fmt"
	"os"
	"strings"

	"github.com/joho/godotenv"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
)

const (
	settingsFlag = "settings"
	envPrefix    = "FAIRLAP_"
)

// settle fills flags that were not given: from FAIRLAP_* variables of their names, then from the
// lines of the file that --settings names. A name that no command knows is an error.
func settle(cmd *cobra.Command) error {
	given := map[string]string{}
	for _, kv := range os.Environ() {
		if name, value, _ := strings.Cut(kv, "="); strings.HasPrefix(name, envPrefix) {
			given[name] = value
		}
	}
	if err := fromVariables(cmd, given); err != nil {
		return err
	}
	file, err := cmd.Flags().GetString(settingsFlag)
	if err != nil || file == "" {
		return err
	}
	if given, err = godotenv.Read(file); err != nil {
		return fmt.Errorf("--%s: %w", settingsFlag, err)
	}
	return fromVariables(cmd, given)
}

func fromVariables(cmd *cobra.Command, given map[string]string) error {
	known := map[string]bool{envName(settingsFlag): true}
	for _, c := range cmd.Root().Commands() {
		c.Flags().VisitAll(func(f *pflag.Flag) { known[envName(f.Name)] = true })
	}
	for name := range given {
		if !known[name] {
			return fmt.Errorf("the variable %s is not known", name)
		}
	}
	var err error
	cmd.Flags().VisitAll(func(f *pflag.Flag) {
		if v, ok := given[envName(f.Name)]; ok && !f.Changed && err == nil {
			if e := cmd.Flags().Set(f.Name, v); e != nil {
				err = fmt.Errorf("%s: %w", envName(f.Name), e)
			}
		}
	})
	return err
}

func envName(flag string) string {
	return envPrefix + strings.ToUpper(strings.ReplaceAll(flag, "-", "_"))
}
