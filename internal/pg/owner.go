package pg

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"os"
	"os/user"
	"path/filepath"
	"strconv"
	"syscall"
)

// owner is who PostgreSQL runs as: the present user, or postgres where that is
// root, since PostgreSQL refuses to run as root.
type owner struct {
	uid, gid int
	other    bool
}

func findOwner() (owner, error) {
	if os.Geteuid() != 0 {
		return owner{uid: os.Geteuid(), gid: os.Getegid()}, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return owner{}, errors.New("there is no user postgres to run the database as (Debian package: postgresql)")
	}
	uid, err1 := strconv.Atoi(u.Uid)
	gid, err2 := strconv.Atoi(u.Gid)
	return owner{uid: uid, gid: gid, other: true}, errors.Join(err1, err2)
}

func (o owner) credential() *syscall.Credential {
	if !o.other {
		return nil
	}
	return &syscall.Credential{Uid: uint32(o.uid), Gid: uint32(o.gid)}
}

// folder makes dir for the owner. Where another user cannot reach it, since a
// folder above it is shut to them, a folder of its own under /var/lib stands in.
func (o owner) folder(dir string) (string, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", err
	}
	if !o.other {
		return dir, os.Chmod(dir, 0o700)
	}
	if !open(filepath.Dir(dir)) {
		dir = filepath.Join("/var/lib/zealousknot", fmt.Sprintf("%x", sha256.Sum256([]byte(dir)))[:12])
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return "", err
		}
	}
	return dir, errors.Join(os.Chown(dir, o.uid, o.gid), os.Chmod(dir, 0o700))
}

// open reports whether everybody may pass through a folder and all above it.
func open(dir string) bool {
	for ; ; dir = filepath.Dir(dir) {
		info, err := os.Stat(dir)
		if err != nil || info.Mode().Perm()&0o001 == 0 {
			return false
		}
		if dir == filepath.Dir(dir) {
			return true
		}
	}
}

// create makes an empty file that only the owner can read.
func (o owner) create(path string) (*os.File, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return nil, err
	}
	if o.other {
		err = f.Chown(o.uid, o.gid)
	}
	return f, err
}

func (o owner) write(path, text string) error {
	f, err := o.create(path)
	if err != nil {
		return err
	}
	_, err = f.WriteString(text)
	return errors.Join(err, f.Close())
}
