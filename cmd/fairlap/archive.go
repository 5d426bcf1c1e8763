package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/spf13/cobra"

	"fairlap/internal/archive"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

// keeping are the commands around a company's record as a whole.
func keeping() []*cobra.Command {
	return []*cobra.Command{
		exportCommand(),
		importCommand(),
		verifyCommand(),
		backupCommand(),
		restoreCommand(),
		rebuildCommand(),
		recoverCommand(),
	}
}

func exportCommand() *cobra.Command {
	var where database
	var lock locks
	export := func(cmd *cobra.Command, st *store.Store, w io.Writer) error {
		out, err := lock.shut(w)
		if err != nil {
			return err
		}
		return errors.Join(st.Export(cmd.Context(), out), out.Close())
	}
	return lock.shutFlags(where.pictureFlags(&cobra.Command{
		Use: "export FILE", Short: "Write everything on record as lines of JSON (- is standard output); it holds password hashes: keep it safe", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			if args[0] == "-" {
				return export(cmd, st, cmd.OutOrStdout())
			}
			return newFile(args[0], func(f *os.File) error { return export(cmd, st, f) })
		},
	}))
}

// newFile writes a file that only its owner reads, over nothing; half of one is taken away.
func newFile(name string, write func(*os.File) error) error {
	f, err := os.OpenFile(name, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if errors.Is(err, os.ErrExist) {
		return fmt.Errorf("%s is there already: nothing is written over it", name)
	}
	if err != nil {
		return fmt.Errorf("making the file: %w", err)
	}
	if err := errors.Join(write(f), f.Close()); err != nil {
		return errors.Join(err, os.Remove(name))
	}
	return nil
}

// archiveFile is a file that is read through whatever encrypts it.
type archiveFile struct {
	io.Reader
	io.Closer
}

// openArchive opens a file to read, or standard input for -.
func openArchive(cmd *cobra.Command, name string, lock *locks) (io.ReadCloser, error) {
	var f io.ReadCloser = io.NopCloser(cmd.InOrStdin())
	if name != "-" {
		var err error
		if f, err = os.Open(name); err != nil {
			return nil, fmt.Errorf("opening the archive: %w", err)
		}
	}
	in, err := lock.open(f)
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return archiveFile{in, f}, nil
}

func importCommand() *cobra.Command {
	var where database
	var lock locks
	return lock.openFlags(where.flags(&cobra.Command{
		Use: "import FILE", Short: "Take what export wrote into an empty database, all of it or nothing (- is standard input)", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			in, err := openArchive(cmd, args[0], &lock)
			if err != nil {
				return err
			}
			defer in.Close()
			if err := st.Migrate(cmd.Context()); err != nil {
				return err
			}
			rows, err := st.Import(cmd.Context(), in)
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "%d rows taken in\n", rows)
			}
			return err
		},
	}))
}

func verifyCommand() *cobra.Command {
	var lock locks
	return lock.openFlags(&cobra.Command{
		Use: "verify FILE", Short: "Tell whether an archive is whole, as it was written (- is standard input)", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			in, err := openArchive(cmd, args[0], &lock)
			if err != nil {
				return err
			}
			defer in.Close()
			rows, sealed, err := archive.Verify(in)
			if err != nil {
				return err
			}
			if !sealed {
				fmt.Fprintf(
					cmd.OutOrStdout(),
					"%d rows can be read; an earlier program wrote them, without a seal: nobody can tell whether there were more\n",
					rows,
				)
				return nil
			}
			fmt.Fprintf(cmd.OutOrStdout(), "whole: %d rows, as they were written\n", rows)
			return nil
		},
	})
}

func backupCommand() *cobra.Command {
	var where database
	return where.flags(&cobra.Command{
		Use: "backup FILE", Short: "Back the database up with PostgreSQL's own pg_dump", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return newFile(args[0], func(*os.File) error {
				return postgres(
					cmd,
					"pg_dump",
					&where,
					"--format=custom",
					"--no-owner",
					"--exclude-table-data=sessions",
					"--file="+args[0],
				)
			})
		},
	})
}

func restoreCommand() *cobra.Command {
	var where database
	return where.flags(&cobra.Command{
		Use: "restore FILE", Short: "Restore a backup into an empty database, all of it or nothing", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return postgres(cmd, "pg_restore", &where, "--no-owner", "--single-transaction", "--exit-on-error", args[0])
		},
	})
}

// postgres runs one of PostgreSQL's own tools on a database; its address goes by the
// environment, where no list of processes shows its password.
func postgres(cmd *cobra.Command, tool string, where *database, args ...string) error {
	url, err := where.address()
	if err != nil {
		return err
	}
	path, err := localdb.Tool(tool)
	if err != nil {
		return err
	}
	c, err := pgconn.ParseConfig(url)
	if err != nil {
		return fmt.Errorf("reading the database address: %w", err)
	}
	if tool == "pg_restore" {
		args = append([]string{"--dbname=" + c.Database}, args...)
	}
	run := exec.CommandContext(cmd.Context(), path, args...)
	run.Env = append(
		os.Environ(),
		"PGHOST="+c.Host,
		fmt.Sprintf("PGPORT=%d", c.Port),
		"PGUSER="+c.User,
		"PGPASSWORD="+c.Password,
		"PGDATABASE="+c.Database,
	)
	if t := c.TLSConfig; t != nil { // no less strict than the address asks
		mode := "verify-full"
		switch {
		case t.InsecureSkipVerify && t.VerifyPeerCertificate != nil:
			mode = "verify-ca"
		case t.InsecureSkipVerify:
			mode = "require"
		}
		run.Env = append(run.Env, "PGSSLMODE="+mode)
	}
	run.Stderr = cmd.ErrOrStderr()
	if err := run.Run(); err != nil {
		return fmt.Errorf("%s: %w", tool, err)
	}
	return nil
}
