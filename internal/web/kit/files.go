package kit

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"sort"
	"strings"
)

// files are the built styles, scripts and fonts. Each is served under a name
// with its hash in it, so that a browser keeps it for good and asks for another
// name when it changes; what compresses is compressed once.
type files struct {
	byName map[string]*file  // under their hashed names
	hashed map[string]string // from plain to hashed name
}

type file struct {
	kind          string
	plain, packed []byte // packed is nil where it would not be smaller
}

func loadFiles(static fs.FS) (*files, error) {
	f := &files{byName: map[string]*file{}, hashed: map[string]string{}}
	var names []string
	err := fs.WalkDir(static, ".", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() && path.Base(name) != "MANIFEST" {
			names = append(names, name)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	// Styles name fonts, so they come last, with the fonts' hashed names in them.
	sort.Slice(names, func(i, j int) bool {
		a, b := path.Ext(names[i]) == ".css", path.Ext(names[j]) == ".css"
		return a != b && b || a == b && names[i] < names[j]
	})
	for _, name := range names {
		body, err := fs.ReadFile(static, name)
		if err != nil {
			return nil, err
		}
		if path.Ext(name) == ".css" {
			for plain, hashed := range f.hashed {
				body = bytes.ReplaceAll(body, []byte("url("+plain+")"), []byte("url("+hashed+")"))
			}
		}
		if err := f.add(name, body); err != nil {
			return nil, err
		}
	}
	return f, nil
}

func (f *files) add(name string, body []byte) error {
	ext := path.Ext(name)
	sum := sha256.Sum256(body)
	hashed := fmt.Sprintf("%s.%x%s", strings.TrimSuffix(name, ext), sum[:6], ext)
	one := &file{kind: mime.TypeByExtension(ext), plain: body}
	switch ext {
	case ".js":
		one.kind = "text/javascript; charset=utf-8"
	case ".css":
		one.kind = "text/css; charset=utf-8"
	case ".woff2":
		one.kind = "font/woff2"
	case ".txt":
		one.kind = "text/plain; charset=utf-8"
	}
	var packed bytes.Buffer
	w, err := gzip.NewWriterLevel(&packed, gzip.BestCompression)
	if err != nil {
		return err
	}
	if _, err := w.Write(body); err != nil {
		return err
	}
	if err := w.Close(); err != nil {
		return err
	}
	if packed.Len() < len(body)*9/10 {
		one.packed = packed.Bytes()
	}
	f.byName[hashed], f.hashed[name] = one, hashed
	return nil
}

// address is where a file is served.
func (f *files) address(name string) (string, error) {
	hashed, ok := f.hashed[name]
	if !ok {
		return "", fmt.Errorf("no file %q", name)
	}
	return "/static/" + hashed, nil
}

// worker is the service worker: its script with the files that it keeps, and a version
// that changes with them.
func (f *files) worker() ([]byte, error) {
	one, ok := f.byName[f.hashed["sw.js"]]
	if !ok {
		return nil, fmt.Errorf("no file %q", "sw.js")
	}
	names := []string{}
	for plain, hashed := range f.hashed {
		switch path.Ext(plain) {
		case ".js", ".css", ".woff2":
			if plain != "sw.js" {
				names = append(names, "/static/"+hashed)
			}
		}
	}
	sort.Strings(names)
	list, err := json.Marshal(names)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(append(list, one.plain...))
	return append(fmt.Appendf(nil, "const FILES = %s, VERSION = \"%x\";\n", list, sum[:6]), one.plain...), nil
}

// ServeHTTP serves a file under its hashed name for good, under its plain name
// for now.
func (f *files) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	name := strings.TrimPrefix(r.URL.Path, "/static/")
	one, ok := f.byName[name]
	keep := "public, max-age=31536000, immutable"
	if !ok {
		one, ok = f.byName[f.hashed[name]]
		keep = "no-cache"
	}
	if !ok {
		w.Header().Set("Cache-Control", "no-store")
		http.Error(w, "There is no such file.", http.StatusNotFound)
		return
	}
	h := w.Header()
	h.Set("Content-Type", one.kind)
	h.Set("Cache-Control", keep)
	h.Set("Vary", "Accept-Encoding")
	body := one.plain
	if one.packed != nil && strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		h.Set("Content-Encoding", "gzip")
		body = one.packed
	}
	h.Set("Content-Length", fmt.Sprint(len(body)))
	_, _ = w.Write(body) // whoever asked may have gone
}
