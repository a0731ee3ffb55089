// Command load burns a village's fires on this machine and says how long its pages take: households
// with stoves, live burns with thermometers, people at their pages, plans; several processes, a first
// database and its standby. In the middle one process is killed, and then the first database. What is
// told is a table; and whether anything that was acknowledged is missing.
//
//	go run ./internal/tools/load --households 1000 --burns 200 --plans 50 --processes 3 --for 2m
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"hash/fnv"
	"io"
	"log"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httputil"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/demo"
	"smolder/internal/pgserver"
	"smolder/internal/store"
	"smolder/internal/storetest"
	"smolder/internal/web/home"
)

// wanted is how much of what there is.
type wanted struct {
	households, burns, plans, people, processes int
	pages                                       float64 // a second, of all people
	every, warm, last                           time.Duration
	kill, sticky                                bool
}

func main() {
	var w wanted
	flag.IntVar(&w.households, "households", 1000, "that live here")
	flag.IntVar(&w.burns, "burns", 200, "that burn, each with three thermometers")
	flag.IntVar(&w.plans, "plans", 50, "asked for a minute")
	flag.IntVar(&w.people, "people", 40, "signed in, of those whose stove burns")
	flag.Float64Var(&w.pages, "pages", 8, "asked for a second, of all people")
	flag.IntVar(&w.processes, "processes", 3, "that serve")
	flag.DurationVar(&w.every, "every", 10*time.Second, "that a thermometer reports")
	flag.DurationVar(&w.warm, "warm", time.Minute, "before it counts: fires that nobody has looked at are made out")
	flag.DurationVar(&w.last, "for", 2*time.Minute, "how long")
	flag.BoolVar(&w.sticky, "sticky", true, "the proxy gives each household to one process as long as that is there")
	flag.BoolVar(&w.kill, "kill", true, "a process in the middle, and then the first database")
	flag.Parse()
	if err := run(context.Background(), w); err != nil {
		log.Fatal(err)
	}
}

func run(ctx context.Context, w wanted) error {
	dir, err := os.MkdirTemp("", "smolder-load-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil { //nolint:gosec // the servers' own user walks through it
		return err
	}
	binary := filepath.Join(dir, "smolder")
	if out, err := exec.CommandContext(ctx, "go", "build", "-o", binary, "./cmd/smolder").CombinedOutput(); err != nil {
		return fmt.Errorf("%w: %s", err, out)
	}
	first, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(dir, "first")})
	if err != nil {
		return err
	}
	defer first.Stop() //nolint:errcheck // it is over
	if err := first.Create(ctx, "smolder", ""); err != nil {
		return err
	}
	began := time.Now()
	v, err := settle(ctx, first.URL("smolder"), w)
	if err != nil {
		return err
	}
	log.Printf("%d households, %d burns in %s", w.households, w.burns, time.Since(began).Round(time.Second))
	second, err := first.Standby(ctx, filepath.Join(dir, "second"), "second")
	if err != nil {
		return err
	}
	defer second.Stop() //nolint:errcheck // it is over
	if err := v.exec(ctx, first.URL("smolder"), `ALTER SYSTEM SET synchronous_standby_names = 'second'`, `SELECT pg_reload_conf()`); err != nil {
		return err
	}
	front := &proxy{sticky: w.sticky}
	var served []*process
	defer func() {
		for _, p := range served {
			p.end()
		}
	}()
	roles := []string{"web", "web,work", "web,intake"}
	for i := range w.processes {
		p, err := begin(ctx, binary, pgserver.Either(first, second, "smolder"), roles[i%len(roles)])
		if err != nil {
			return err
		}
		served = append(served, p)
	}
	front.serve(served)
	at, err := front.listen()
	if err != nil {
		return err
	}
	v.at = at
	return v.live(ctx, w, served, first, second)
}

// A village is who lives here, and how long everything took them.
type village struct {
	at     string
	homes  []*house
	people []*http.Client

	mu     sync.Mutex
	took   map[string][]time.Duration
	failed map[string]int
	lost   atomic.Int64 // answers that never came, and were asked again
}

// A house is one household whose stove burns.
type house struct {
	home               store.Household
	owner, token       string
	stove, stack, fire int64
	began              time.Time

	mu      sync.Mutex
	entries []string // acknowledged
	reports int
}

const password = "a-village-of-stoves"

// settle makes the households, and lights some stoves.
func settle(ctx context.Context, at string, w wanted) (*village, error) {
	st, err := store.Open(ctx, at)
	if err != nil {
		return nil, err
	}
	defer st.Close()
	if _, err := st.Migrate(ctx); err != nil {
		return nil, err
	}
	v := &village{took: map[string][]time.Duration{}, failed: map[string]int{}}
	hash := home.HashPassword(password)
	for i := range w.households {
		h := &house{owner: fmt.Sprintf("house-%d", i), began: time.Now().UTC().Add(-30 * time.Minute).Truncate(time.Second)}
		id, _, err := st.Create(ctx, demo.Profile(time.Now()), demo.Spaces()[0], h.owner, hash)
		if err != nil {
			return nil, err
		}
		h.home = st.Household(id)
		if err := h.furnish(ctx, i < w.burns); err != nil {
			return nil, err
		}
		if i < w.burns {
			v.homes = append(v.homes, h)
		}
	}
	return v, nil
}

func (h *house) furnish(ctx context.Context, burns bool) error {
	spaces, err := h.home.Spaces(ctx)
	if err != nil {
		return err
	}
	auntie := demo.Stoves()[0]
	auntie.Space = spaces[0]
	if h.stove, err = h.home.AddStove(ctx, auntie); err != nil {
		return err
	}
	wood := demo.Stacks()[0]
	if h.stack, err = storetest.AddStack(h.home, wood, h.began.Add(-time.Hour)); err != nil || !burns {
		return err
	}
	if h.fire, err = h.home.StartBurn(ctx, h.stove, "", burn.Burn{Stove: auntie.Stove, House: auntie.Space.House, Started: h.began}, nil); err != nil {
		return err
	}
	kindling := fire.Load{Species: wood.Species, Moisture: wood.Moisture(), Pieces: 3, PieceMass: 1.1, PieceLength: 0.33, Direction: "end-on", Lay: fire.TopDown, StackID: h.stack, StackName: wood.Name}
	for i, e := range []burn.Entry{
		{Kind: burn.Load, Load: &kindling}, {Kind: burn.Light, At: h.began.Add(time.Minute)}, {Kind: burn.Temperature, Place: auntie.Stove.Gauges[0].Place, Reading: 140, At: h.began.Add(12 * time.Minute)},
	} {
		e.ID = fmt.Sprintf("s-%d", i)
		if e.At.IsZero() {
			e.At = h.began
		}
		if err := h.home.AddEntry(ctx, h.fire, e, time.Now()); err != nil {
			return err
		}
	}
	h.token, err = h.home.MakeToken(ctx, "load", 0, []string{store.ScopeRead, store.ScopeLog, store.ScopeReadings})
	return err
}

func (v *village) exec(ctx context.Context, at string, statements ...string) error {
	st, err := store.Open(ctx, at)
	if err != nil {
		return err
	}
	defer st.Close()
	for _, s := range statements {
		if _, err := st.DB().ExecContext(ctx, s); err != nil {
			return err
		}
	}
	return nil
}

// ask asks until it is answered, and keeps how long the answer took; a server that is not there is
// asked again, as a phone does, and that is counted apart.
func (v *village) ask(ctx context.Context, what string, h *house, client *http.Client, make func() (*http.Request, error)) ([]byte, bool) {
	for try := 0; ctx.Err() == nil; try++ {
		q, err := make()
		if err != nil {
			log.Print(err)
			return nil, false
		}
		q.Header.Set("X-Household", h.owner) // as a proxy knows it by a cookie or a token
		began := time.Now()
		got, err := client.Do(q.WithContext(context.WithoutCancel(ctx)))
		if err == nil {
			body, err := io.ReadAll(got.Body)
			_ = got.Body.Close()
			if err == nil && got.StatusCode < http.StatusInternalServerError {
				v.note(what, time.Since(began), got.StatusCode)
				return body, got.StatusCode < http.StatusBadRequest
			}
		}
		v.lost.Add(1)
		time.Sleep(100 * time.Millisecond)
	}
	return nil, false
}

func (v *village) note(what string, took time.Duration, status int) {
	v.mu.Lock()
	defer v.mu.Unlock()
	if status >= http.StatusBadRequest {
		v.failed[fmt.Sprintf("%s: %d", what, status)]++
		return
	}
	v.took[what] = append(v.took[what], took)
}

// live is the village for a while.
func (v *village) live(ctx context.Context, w wanted, served []*process, first, second *pgserver.Server) error {
	if err := v.signIn(ctx, min(w.people, len(v.homes))); err != nil {
		return err
	}
	living, stop := context.WithTimeout(ctx, w.warm+w.last)
	defer stop()
	var all sync.WaitGroup
	all.Go(func() {
		wait(living, w.warm)
		v.mu.Lock()
		defer v.mu.Unlock()
		v.took, v.failed = map[string][]time.Duration{}, map[string]int{} // what came before does not count
		v.lost.Store(0)
	})
	for i, h := range v.homes {
		all.Go(func() { v.thermometers(living, w, h, i) })
	}
	each := time.Duration(float64(time.Second) * float64(len(v.people)) / w.pages)
	for i, p := range v.people {
		all.Go(func() { v.reads(living, p, v.homes[i], each) })
	}
	all.Go(func() { v.plans(living, w) })
	killed := "nothing was killed"
	if w.kill {
		all.Go(func() {
			wait(living, w.warm+w.last/3)
			served[0].kill(ctx)
			wait(living, w.last/3)
			if err := first.Kill(); err != nil {
				log.Print(err)
			}
			if err := second.Promote(ctx); err != nil {
				log.Print(err)
			}
		})
		killed = "a process killed after a third, the first database after two"
	}
	all.Wait()
	missing, err := v.missing(ctx, pgserver.Either(first, second, "smolder"))
	if err != nil {
		return err
	}
	v.table(w, killed, missing)
	return nil
}

func wait(ctx context.Context, d time.Duration) {
	select {
	case <-ctx.Done():
	case <-time.After(d):
	}
}

// signIn signs some people in.
func (v *village) signIn(ctx context.Context, n int) error {
	for i := range n {
		jar, err := cookiejar.New(nil)
		if err != nil {
			return err
		}
		client := &http.Client{Jar: jar, Timeout: 30 * time.Second}
		_, ok := v.ask(ctx, "sign-in", v.homes[i], client, func() (*http.Request, error) {
			return v.form("/sign-in", url.Values{"name": {v.homes[i].owner}, "password": {password}}, false)
		})
		if !ok {
			return errors.New("nobody is let in")
		}
		v.people = append(v.people, client)
	}
	return nil
}

func (v *village) form(path string, values url.Values, json bool) (*http.Request, error) {
	q, err := http.NewRequest(http.MethodPost, v.at+path, strings.NewReader(values.Encode()))
	if err == nil {
		q.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		q.Header.Set("Origin", v.at)
		if json {
			q.Header.Set("Accept", "application/json")
		}
	}
	return q, err
}

// thermometers report every so often, three gauges at a time.
func (v *village) thermometers(ctx context.Context, w wanted, h *house, i int) {
	client := &http.Client{Timeout: 10 * time.Second}
	wait(ctx, time.Duration(rand.Int64N(int64(w.every))))
	for n := 0; ctx.Err() == nil; n++ {
		at := time.Now().UTC().Format(time.RFC3339Nano)
		body := fmt.Sprintf(`{"at": %q, "stove": %d, "place": "connector-probe", "value": %d}`+"\n"+`{"at": %q, "stove": %d, "place": "top", "value": %d}`+"\n"+`{"at": %q, "stove": %d, "place": "room", "value": %.1f}`+"\n",
			at, h.stove, 180+(n+i)%40, at, h.stove, 160+(n+i)%30, at, h.stove, 18+float64(n%10)/10)
		if _, ok := v.ask(ctx, "readings", h, client, func() (*http.Request, error) { return h.program(v.at+"/api/v1/readings", body) }); ok {
			h.mu.Lock()
			h.reports += 3
			h.mu.Unlock()
		}
		wait(ctx, w.every)
	}
}

func (h *house) program(at, body string) (*http.Request, error) {
	q, err := http.NewRequest(http.MethodPost, at, strings.NewReader(body))
	if err == nil {
		q.Header.Set("Authorization", "Bearer "+h.token)
		q.Header.Set("Content-Type", "application/x-ndjson")
	}
	return q, err
}

// reads is somebody at their pages, who logs something now and then.
func (v *village) reads(ctx context.Context, client *http.Client, h *house, each time.Duration) {
	wait(ctx, time.Duration(rand.Int64N(int64(each))))
	pages := []string{"/", "/plan", "/wood", "/burns", "/season", "/upkeep", fmt.Sprintf("/burns/%d", h.fire), "/wood/winter"}
	get := func(path string) func() (*http.Request, error) {
		return func() (*http.Request, error) { return http.NewRequest(http.MethodGet, v.at+path, nil) }
	}
	live := fmt.Sprintf("/burns/%d/live", h.fire)
	for n := 0; ctx.Err() == nil; n++ {
		switch {
		case n%4 == 3:
			id := fmt.Sprintf("l-%d", n)
			began := time.Now()
			values := url.Values{"id": {id}, "kind": {"temperature"}, "place": {"connector-probe"}, "value": {fmt.Sprint(190 + n)}, "unit": {"C"}, "at": {time.Now().UTC().Format("15:04")}}
			_, ok := v.ask(ctx, "an entry", h, client, func() (*http.Request, error) { return v.form(fmt.Sprintf("/burns/%d/entries", h.fire), values, true) })
			if _, advised := v.ask(ctx, "its advice", h, client, get(live+"?part=1")); ok && advised {
				v.note("entry to advice", time.Since(began), http.StatusOK)
				h.mu.Lock()
				h.entries = append(h.entries, id)
				h.mu.Unlock()
			}
		case n%4 == 1:
			v.ask(ctx, "at the stove", h, client, get(live))
		default:
			v.ask(ctx, "a page", h, client, get(pages[(n/2+int(h.fire))%len(pages)]))
		}
		wait(ctx, each)
	}
}

// plans asks for some a minute, each of another household.
func (v *village) plans(ctx context.Context, w wanted) {
	if w.plans <= 0 {
		return
	}
	var all sync.WaitGroup
	client := &http.Client{Timeout: 2 * time.Minute}
	for n := 0; ctx.Err() == nil; n++ {
		h := v.homes[n%len(v.homes)]
		all.Go(func() {
			v.ask(ctx, "a plan", h, client, func() (*http.Request, error) {
				q, err := h.program(fmt.Sprintf("%s/api/v1/stoves/%d/plans", v.at, h.stove), `{"plan": {"for": "4 h", "start": "cold"}, "weather": {"outdoor": "2 C"}}`)
				if err == nil {
					q.Header.Set("Content-Type", "application/json")
				}
				return q, err
			})
		})
		wait(ctx, time.Minute/time.Duration(w.plans))
	}
	all.Wait()
}

// missing are entries and readings that were acknowledged and are not there.
func (v *village) missing(ctx context.Context, at string) (n int, err error) {
	st, err := store.Open(ctx, at)
	if err != nil {
		return 0, err
	}
	defer st.Close()
	for _, h := range v.homes {
		full, err := st.Household(h.home.ID()).WholeBurn(ctx, h.fire)
		if err != nil {
			return n, err
		}
		there, readings := map[string]bool{}, 0
		for _, e := range full.Entries {
			there[e.ID] = true
		}
		if err := st.DB().QueryRowContext(ctx, `SELECT count(*) FROM reported WHERE household_id = $1`, h.home.ID()).Scan(&readings); err != nil {
			return n, err
		}
		for _, id := range h.entries {
			if !there[id] {
				n++
			}
		}
		n += max(0, h.reports-readings)
	}
	return n, nil
}

// table is what came of it.
func (v *village) table(w wanted, killed string, missing int) {
	fmt.Printf("%d households, %d live burns (a reading of three gauges every %s), %d people, %.0f pages a second, %d plans a minute, %d processes, %s; %s\n\n",
		w.households, len(v.homes), w.every, len(v.people), w.pages, w.plans, w.processes, w.last, killed)
	fmt.Println("| what | answers | median | p95 | most |\n|---|---|---|---|---|")
	for _, what := range []string{"a page", "at the stove", "an entry", "its advice", "entry to advice", "readings", "a plan"} {
		took := v.took[what]
		if len(took) == 0 {
			continue
		}
		slices.Sort(took)
		part := func(share float64) time.Duration {
			return took[min(len(took)-1, int(share*float64(len(took))))].Round(time.Millisecond)
		}
		fmt.Printf("| %s | %d | %s | %s | %s |\n", what, len(took), part(0.5), part(0.95), took[len(took)-1].Round(time.Millisecond))
	}
	fmt.Printf("\nasked again, because nobody answered: %d; refused: %v; acknowledged and missing: %d\n", v.lost.Load(), v.failed, missing)
}

// A process is one that serves.
type process struct {
	cmd  *exec.Cmd
	args []string
	url  *url.URL
	up   atomic.Bool
}

func begin(ctx context.Context, binary, database, role string) (*process, error) {
	p := &process{args: []string{binary, "serve", "--database", database, "--migrate=false", "--role", role, "--behind-proxy"}}
	return p, p.start(ctx, "127.0.0.1:0")
}

func (p *process) start(ctx context.Context, listen string) error {
	p.cmd = exec.CommandContext(ctx, p.args[0], append(slices.Clone(p.args[1:]), "--listen", listen)...) //nolint:gosec // built here
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := p.cmd.Start(); err != nil {
		return err
	}
	said := make([]byte, 200)
	n, err := out.Read(said)
	if err != nil {
		return err
	}
	_, at, _ := strings.Cut(strings.TrimSpace(string(said[:n])), "Smolder is at ")
	if p.url, err = url.Parse(at); err != nil {
		return err
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	p.up.Store(true)
	return nil
}

// kill ends it as a crash does, and whoever looks after it starts it anew a while later.
func (p *process) kill(ctx context.Context) {
	p.up.Store(false)
	p.end()
	time.Sleep(2 * time.Second)
	if err := p.start(ctx, p.url.Host); err != nil {
		log.Print(err)
	}
}

func (p *process) end() {
	_ = p.cmd.Process.Kill()
	_ = p.cmd.Wait()
}

// A proxy gives each request to the next process that is there.
type proxy struct {
	to     []*process
	sticky bool
	next   atomic.Uint64
}

// place is where a request goes first.
func (x *proxy) place(r *http.Request) uint64 {
	if !x.sticky {
		return x.next.Add(1)
	}
	who := fnv.New64a()
	_, _ = io.WriteString(who, r.Header.Get("X-Household"))
	return who.Sum64()
}

func (x *proxy) serve(to []*process) { x.to = to }

func (x *proxy) listen() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	transport := &http.Transport{MaxIdleConnsPerHost: 64}
	handler := &httputil.ReverseProxy{Transport: transport, ErrorLog: log.New(io.Discard, "", 0), Rewrite: func(r *httputil.ProxyRequest) {
		first := x.place(r.In)
		for k := range uint64(len(x.to)) {
			if p := x.to[(first+k)%uint64(len(x.to))]; p.up.Load() {
				r.SetURL(p.url)
				break
			}
		}
		r.Out.Host = r.In.Host
		r.SetXForwarded()
	}}
	go func() { _ = (&http.Server{Handler: handler, ReadHeaderTimeout: time.Minute}).Serve(l) }()
	return "http://" + l.Addr().String(), nil
}
