// Package cluster runs a PostgreSQL server of our own on loopback, with its
// data in our own folder and never as root.
package cluster

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"
)

const owner = "chrysagon"

// Cluster is a running server.
type Cluster struct {
	folder   string // the data folder that PostgreSQL sees
	bin      string
	as       *syscall.Credential
	password string
	port     int // 0: not chosen yet
	options  Options
}

// Options says how to run the server.
type Options struct {
	Data   string   // our data folder; the server's own is inside it
	Forget bool     // durability is not needed: tests
	Set    []string // more settings, as name=value
}

// Start begins the server of a data folder, making it first when it is new. A
// server that was left running by a killed program is taken over.
func Start(ctx context.Context, o Options) (*Cluster, error) {
	bin, err := binaries()
	if err != nil {
		return nil, err
	}
	c := &Cluster{bin: bin, options: o}
	if err := c.place(o.Data); err != nil {
		return nil, err
	}
	if err := c.secret(o.Data); err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(c.folder, "PG_VERSION")); err != nil {
		if err := c.create(ctx); err != nil {
			return nil, err
		}
	}
	if port, running := c.running(); running {
		c.port = port
		return c, nil
	}
	return c, c.begin(ctx)
}

// URL is the address of a database of this server.
func (c *Cluster) URL(database string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", owner, c.password, c.port, database)
}

// Keep starts the server again, at its port, whenever it has died, and tells of
// it; it looks at every tick until the context ends.
func (c *Cluster) Keep(ctx context.Context, tick <-chan time.Time, tell func(error)) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick:
		}
		if _, runs := c.running(); runs || ctx.Err() != nil {
			continue
		}
		// Should processes of the dead server still be ending, the next tick tries again.
		tell(c.begin(ctx))
	}
}

// Stop ends the server. It waits until everything is on disk.
func (c *Cluster) Stop() error {
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	return c.run(ctx, "pg_ctl", "stop", "-D", c.folder, "-m", "fast", "-w", "-s")
}

// binaries finds the newest PostgreSQL server that Debian has installed.
func binaries() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/initdb")
	sort.Slice(found, func(i, j int) bool { return version(found[i]) > version(found[j]) })
	if len(found) == 0 {
		return "", errors.New("the PostgreSQL server is not installed; “make demo” and “make test” install it, or run: apt-get install postgresql")
	}
	return filepath.Dir(found[0]), nil
}

func version(path string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
	return n
}

// place chooses the server's folder. Run by root, the server belongs to the
// user postgres; where that user cannot reach our folder, its data stands
// under /var/lib instead, by the name of our folder.
func (c *Cluster) place(data string) error {
	data, err := filepath.Abs(data)
	if err != nil {
		return fmt.Errorf("find the data folder: %w", err)
	}
	if err := os.MkdirAll(data, 0o755); err != nil { //nolint:gosec // the server's user must be able to pass through
		return fmt.Errorf("make the data folder: %w", err)
	}
	c.folder = filepath.Join(data, "postgres")
	if os.Geteuid() != 0 {
		return nil
	}
	uid, gid, err := postgresUser()
	if err != nil {
		return err
	}
	c.as = &syscall.Credential{Uid: uid, Gid: gid}
	if !c.reaches(data) {
		sum := sha256.Sum256([]byte(data))
		c.folder = filepath.Join("/var/lib/chrysagon", hex.EncodeToString(sum[:6]))
	}
	if err := os.MkdirAll(filepath.Dir(c.folder), 0o755); err != nil { //nolint:gosec // as above
		return fmt.Errorf("make the server's folder: %w", err)
	}
	if err := os.MkdirAll(c.folder, 0o700); err != nil {
		return fmt.Errorf("make the server's folder: %w", err)
	}
	return os.Chown(c.folder, int(uid), int(gid))
}

func postgresUser() (uid, gid uint32, err error) {
	raw, err := os.ReadFile("/etc/passwd")
	if err != nil {
		return 0, 0, fmt.Errorf("look for the user postgres: %w", err)
	}
	for line := range strings.SplitSeq(string(raw), "\n") {
		if f := strings.Split(line, ":"); len(f) > 3 && f[0] == "postgres" {
			u, err1 := strconv.ParseUint(f[2], 10, 32)
			g, err2 := strconv.ParseUint(f[3], 10, 32)
			return uint32(u), uint32(g), errors.Join(err1, err2)
		}
	}
	return 0, 0, errors.New("there is no user postgres to run the server as; install Debian's package postgresql")
}

func (c *Cluster) reaches(folder string) bool {
	cmd := exec.Command("test", "-x", folder) //nolint:gosec // our own folder
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.as}
	cmd.Dir = "/"
	return cmd.Run() == nil
}

func (c *Cluster) secret(data string) error {
	path := filepath.Join(data, "postgres.password")
	if raw, err := os.ReadFile(path); err == nil {
		c.password = strings.TrimSpace(string(raw))
		return nil
	}
	c.password = rand.Text()
	if err := os.WriteFile(path, []byte(c.password+"\n"), 0o600); err != nil {
		return fmt.Errorf("keep the database's password: %w", err)
	}
	return nil
}

func (c *Cluster) create(ctx context.Context) error {
	file, err := os.CreateTemp("", "chrysagon-*")
	if err != nil {
		return fmt.Errorf("make the database: %w", err)
	}
	defer func() { _ = os.Remove(file.Name()) }()
	_, err = file.WriteString(c.password + "\n")
	if c.as != nil {
		err = errors.Join(err, file.Chown(int(c.as.Uid), int(c.as.Gid)))
	}
	if err = errors.Join(err, file.Close()); err != nil {
		return fmt.Errorf("make the database: %w", err)
	}
	return c.run(ctx, "initdb", "-D", c.folder, "-U", owner, "--auth=scram-sha-256", "--pwfile="+file.Name(),
		"--encoding=UTF8", "--locale=C.UTF-8", "--no-instructions")
}

// running reads the server's own note of its process and port.
func (c *Cluster) running() (int, bool) {
	raw, err := os.ReadFile(filepath.Join(c.folder, "postmaster.pid"))
	if err != nil {
		return 0, false
	}
	lines := strings.Split(string(raw), "\n")
	if len(lines) < 4 {
		return 0, false
	}
	pid, err1 := strconv.Atoi(strings.TrimSpace(lines[0]))
	port, err2 := strconv.Atoi(strings.TrimSpace(lines[3]))
	if err1 != nil || err2 != nil || syscall.Kill(pid, 0) != nil {
		return 0, false
	}
	conn, err := net.DialTimeout("tcp", fmt.Sprintf("127.0.0.1:%d", port), time.Second)
	if err != nil {
		return 0, false
	}
	return port, conn.Close() == nil
}

func (c *Cluster) begin(ctx context.Context) error {
	if c.port == 0 {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return fmt.Errorf("find a free port for the database: %w", err)
		}
		c.port = listener.Addr().(*net.TCPAddr).Port
		_ = listener.Close()
	}
	settings := []string{
		"-p", strconv.Itoa(c.port), "-h", "127.0.0.1", "-k", "''",
		"-c", "max_connections=200", "-c", "jit=off", "-c", "shared_buffers=256MB", "-c", "log_min_messages=warning",
	}
	if c.options.Forget {
		settings = append(settings, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	for _, s := range c.options.Set {
		settings = append(settings, "-c", s)
	}
	log := filepath.Join(c.folder, "server.log")
	return c.run(ctx, "pg_ctl", "start", "-D", c.folder, "-l", log, "-w", "-s", "-t", "60", "-o", strings.Join(settings, " "))
}

func (c *Cluster) run(ctx context.Context, program string, args ...string) error {
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, program), args...) //nolint:gosec // Debian's own programs
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.as, Setpgid: true}
	cmd.Dir = "/"
	// A file, not a pipe: the server inherits it and would hold a pipe open.
	out, err := os.CreateTemp("", "chrysagon-*.log")
	if err != nil {
		return fmt.Errorf("run %s: %w", program, err)
	}
	defer func() { _ = out.Close(); _ = os.Remove(out.Name()) }()
	cmd.Stdout, cmd.Stderr = out, out
	if err := cmd.Run(); err != nil {
		said, _ := os.ReadFile(out.Name())
		return fmt.Errorf("%s: %w: %s", program, err, strings.TrimSpace(string(said)))
	}
	return nil
}

// CreateDatabase makes a database of that name unless it is there.
func (c *Cluster) CreateDatabase(ctx context.Context, name string) error {
	return createDatabase(ctx, c.URL("postgres"), name)
}

// Remove stops the server of a data folder and deletes its data.
func Remove(data string) error {
	bin, err := binaries()
	if err != nil {
		return err
	}
	c := &Cluster{bin: bin}
	if err := c.place(data); err != nil {
		return err
	}
	if _, running := c.running(); running {
		if err := c.Stop(); err != nil {
			return err
		}
	}
	if err := os.RemoveAll(c.folder); err != nil {
		return fmt.Errorf("delete the server's data: %w", err)
	}
	return nil
}
