package pgrun

import (
	"errors"
	"fmt"
	"os"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// prepareFolder makes the data folder and says as whom the server must run:
// nil for the caller; for root, who may not run it, the folder's owner or
// Debian's user postgres.
func prepareFolder(dir string) (*syscall.Credential, error) {
	info, err := os.Stat(dir)
	if err == nil && !info.IsDir() {
		return nil, fmt.Errorf("%s is a file; give a folder for the data", dir)
	}
	me := os.Geteuid()
	if errors.Is(err, os.ErrNotExist) {
		if err := os.MkdirAll(dir, 0o711); err != nil {
			return nil, fmt.Errorf("make the data folder: %w; choose another with DATA=FOLDER", err)
		}
		if err := os.Chmod(dir, 0o711); err != nil { // MkdirAll obeys the umask
			return nil, err
		}
		info, err = os.Stat(dir)
	}
	if err != nil {
		return nil, fmt.Errorf("look at the data folder: %w; choose another with DATA=FOLDER", err)
	}
	owner := int(info.Sys().(*syscall.Stat_t).Uid)
	if me != 0 {
		if owner != me {
			return nil, fmt.Errorf("the data folder %s belongs to %s; run as that user, or choose another with DATA=FOLDER", dir, nameOf(owner))
		}
		return nil, nil
	}
	cred := &syscall.Credential{Uid: uint32(owner), Gid: info.Sys().(*syscall.Stat_t).Gid}
	if owner == 0 {
		u, err := user.Lookup("postgres")
		if err != nil {
			return nil, errors.New("there is no user postgres to run the database as: apt-get install postgresql")
		}
		uid, _ := strconv.ParseUint(u.Uid, 10, 32)
		gid, _ := strconv.ParseUint(u.Gid, 10, 32)
		cred = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
		err = filepath.WalkDir(dir, func(path string, _ os.DirEntry, err error) error {
			if err != nil {
				return err
			}
			return os.Lchown(path, int(uid), int(gid))
		})
		if err != nil {
			return nil, fmt.Errorf("hand the data folder to the user postgres: %w", err)
		}
	}
	return cred, reachable(dir, cred)
}

func nameOf(uid int) string {
	if u, err := user.LookupId(strconv.Itoa(uid)); err == nil {
		return u.Username
	}
	return fmt.Sprintf("user %d", uid)
}

// reachable checks that cred may enter every folder above dir.
func reachable(dir string, cred *syscall.Credential) error {
	for p := filepath.Dir(dir); ; p = filepath.Dir(p) {
		info, err := os.Stat(p)
		if err != nil {
			return err
		}
		st, bit := info.Sys().(*syscall.Stat_t), os.FileMode(0o001)
		switch {
		case st.Uid == cred.Uid:
			bit = 0o100
		case st.Gid == cred.Gid:
			bit = 0o010
		}
		if info.Mode().Perm()&bit == 0 {
			return fmt.Errorf("the user %s, as whom the database runs, may not enter %s; choose a data folder elsewhere with DATA=FOLDER", nameOf(int(cred.Uid)), p)
		}
		if p == "/" {
			return nil
		}
	}
}

func takeLock(path string) (*os.File, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("open the lock of the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, fmt.Errorf("%s is in use by another White Barn; stop that one, or choose another folder with DATA=FOLDER", filepath.Dir(path))
	}
	return f, nil
}

// clearLeftOver ends what a killed program left running on the folder, whose
// lock the caller holds: its server and any backend still busy. A stale
// postmaster.pid, also one whose number another process has since been given,
// is removed.
func clearLeftOver(pgdata string) error {
	for _, round := range []struct {
		signal syscall.Signal
		wait   time.Duration
	}{{syscall.SIGINT, 10 * time.Second}, {syscall.SIGQUIT, 5 * time.Second}, {syscall.SIGKILL, 5 * time.Second}} {
		pids := serversOn(pgdata)
		for _, pid := range pids {
			_ = syscall.Kill(pid, round.signal)
		}
		for end := time.Now().Add(round.wait); len(pids) > 0 && time.Now().Before(end); pids = serversOn(pgdata) {
			time.Sleep(20 * time.Millisecond)
		}
		if len(pids) == 0 {
			if err := os.Remove(filepath.Join(pgdata, "postmaster.pid")); err != nil && !errors.Is(err, os.ErrNotExist) {
				return fmt.Errorf("remove the stale postmaster.pid: %w", err)
			}
			return nil
		}
	}
	return fmt.Errorf("processes %v still hold %s and cannot be ended", serversOn(pgdata), pgdata)
}

// serversOn lists the postgres processes whose working folder is pgdata.
func serversOn(pgdata string) []int {
	links, _ := filepath.Glob("/proc/[0-9]*/cwd")
	var pids []int
	for _, link := range links {
		at, err := os.Readlink(link)
		if err != nil || at != pgdata {
			continue
		}
		name, _ := os.ReadFile(filepath.Join(filepath.Dir(link), "comm"))
		pid, err := strconv.Atoi(filepath.Base(filepath.Dir(link)))
		if err == nil && strings.HasPrefix(string(name), "postgres") {
			pids = append(pids, pid)
		}
	}
	return pids
}

// Running is the address of the server that runs on a data folder for another White Barn;
// empty where none does.
func Running(dir string) (string, error) {
	text, err := os.ReadFile(filepath.Join(dir, "pgdata", "postmaster.pid"))
	if errors.Is(err, os.ErrNotExist) {
		return "", nil
	}
	if err != nil {
		return "", fmt.Errorf("look for the running server: %w", err)
	}
	lines := strings.Split(string(text), "\n")
	pid, _ := strconv.Atoi(lines[0])
	if len(lines) < 8 || strings.TrimSpace(lines[7]) != "ready" || syscall.Kill(pid, 0) != nil && !errors.Is(syscall.Kill(pid, 0), syscall.EPERM) {
		return "", nil
	}
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return "", fmt.Errorf("read the database password: %w; run this as the user White Barn runs as", err)
	}
	return address(string(password), lines[3]), nil
}

func address(password, port string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%s/%s?sslmode=disable", dbUser, password, port, dbName)
}
