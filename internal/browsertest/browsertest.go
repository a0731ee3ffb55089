// Package browsertest drives a headless Chromium as a person would, for the
// browser tests and for the pictures in docs/screenshots. Everything waits on a
// condition of the page and never on a clock; the timeout only ends a wait that
// would never succeed.
package browsertest

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"sync"
	"time"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
)

// patience is how long a condition may take on a busy machine.
const patience = 30 * time.Second

// A Browser is one Chromium with one tab.
type Browser struct {
	ctx   context.Context
	stop  func()
	base  string
	moved time.Duration // how far on its clock is
}

// Start starts Chromium for pages below base. Close must be called.
func Start(base string) (*Browser, error) {
	profile, err := os.MkdirTemp("", "smolder-chromium-")
	if err != nil {
		return nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU, chromedp.UserDataDir(profile),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true), chromedp.Flag("hide-scrollbars", true),
		chromedp.Flag("force-prefers-reduced-motion", true), chromedp.WSURLReadTimeout(60*time.Second))
	all, stopAll := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, stopTab := chromedp.NewContext(all)
	b := &Browser{ctx: ctx, base: base, stop: func() { stopTab(); stopAll(); _ = os.RemoveAll(profile) }}
	// The first run starts the browser: no timeout on its context, it would
	// end the browser with it.
	if err := chromedp.Do(ctx, chromedp.Navigate("about:blank")); err != nil {
		b.stop()
		return nil, fmt.Errorf("starting Chromium: %w", err)
	}
	said.Do(b.sayWhich)
	return b, nil
}

var said sync.Once

// sayWhich says once a run which browser it is: what one takes another may refuse.
func (b *Browser) sayWhich() {
	_ = b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		v, err := cdp.Call(ctx, t, browser.GetVersion, cdp.Empty{})
		if err == nil {
			fmt.Fprintln(os.Stderr, "browser tests use", v.Product)
		}
		return err
	}))
}

// Tab opens another tab of the same browser, with its sign-in and what it keeps.
// Close closes the tab.
func (b *Browser) Tab() (*Browser, error) {
	ctx, stop := chromedp.NewContext(b.ctx)
	tab := &Browser{ctx: ctx, base: b.base, stop: stop}
	if err := chromedp.Do(ctx, chromedp.Navigate("about:blank")); err != nil {
		stop()
		return nil, fmt.Errorf("opening a tab: %w", err)
	}
	return tab, tab.Clock(b.moved)
}

// Clock moves the clock of the pages that are opened from now on.
func (b *Browser) Clock(by time.Duration) error {
	if b.moved = by; by == 0 {
		return nil
	}
	script := fmt.Sprintf(`(() => { const real = Date, by = %d;
		window.Date = class extends real { constructor(...at) { if (at.length) super(...at); else super(real.now() + by); } static now() { return real.now() + by; } };
	})()`, by.Milliseconds())
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
		return err
	}))
}

// Close ends Chromium and removes its profile.
func (b *Browser) Close() { b.stop() }

func (b *Browser) do(steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	return chromedp.Do(ctx, steps...)
}

// Size sets the size of the page.
func (b *Browser) Size(width, height int64) error {
	return b.do(chromedp.EmulateViewport(width, height))
}

// Open goes to a path and waits until it is there.
func (b *Browser) Open(path string) error {
	if err := b.do(chromedp.Navigate(b.base + path)); err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	return b.Wait(`document.readyState === "complete" && document.querySelector("main") !== null`)
}

// Eval runs a script in the page and decodes its answer.
func Eval[T any](b *Browser, script string) (T, error) {
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	return chromedp.Run(ctx, chromedp.Evaluate[T](script, chromedp.EvalAwaitPromise))
}

// Wait waits until a condition in JavaScript holds, across navigations.
func (b *Browser) Wait(condition string) error {
	deadline := time.Now().Add(patience)
	for {
		ok, err := Eval[bool](b, "Promise.resolve("+condition+").then(Boolean)")
		if ok && err == nil {
			return nil
		}
		if time.Now().After(deadline) {
			where, _ := Eval[string](b, "location.pathname + ' — ' + document.body.innerText.slice(0, 600)")
			return errors.Join(fmt.Errorf("waited in vain for %s at %s", condition, where), err)
		}
		time.Sleep(25 * time.Millisecond) // between looks, not instead of one
	}
}

func quote(s string) string {
	b, _ := json.Marshal(s) // a string: cannot fail
	return string(b)
}

// WaitText waits until the page shows a text.
func (b *Browser) WaitText(text string) error {
	return b.Wait(shownText + ".includes(" + quote(text) + ")")
}

// WaitPath waits until the address is a path, or matches it as a pattern.
func (b *Browser) WaitPath(pattern string) error {
	return b.Wait("new RegExp(" + quote(pattern) + ").test(location.pathname) && document.readyState === 'complete'")
}

// Click clicks the first visible element of a CSS selector, as a mouse does.
func (b *Browser) Click(selector string) error {
	if err := b.Wait("[...document.querySelectorAll(" + quote(selector) + ")].some(e => e.checkVisibility())"); err != nil {
		return err
	}
	at, err := Eval[[2]float64](b, `(() => { const e = [...document.querySelectorAll(`+quote(selector)+`)].find(e => e.checkVisibility());
		e.scrollIntoView({ block: "center" }); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	if err != nil {
		return err
	}
	return b.do(chromedp.MouseClickXY(at[0], at[1]))
}

// Fill replaces what stands in a field, by typing.
func (b *Browser) Fill(selector, text string) error {
	if _, err := Eval[bool](b, `(() => { const e = [...document.querySelectorAll(`+quote(selector)+`)].find(e => e.checkVisibility()); e.scrollIntoView({ block: "center" }); e.focus(); e.select?.(); return true; })()`); err != nil {
		return fmt.Errorf("no field %s: %w", selector, err)
	}
	if text == "" {
		return b.Keys("\b")
	}
	return b.Keys(text)
}

// Choose chooses an option by its words.
func (b *Browser) Choose(selector, words string) error {
	ok, err := Eval[bool](b, `(() => { const e = document.querySelector(`+quote(selector)+`); const o = [...e.options].find(o => o.text.replaceAll("\u00a0", " ").replaceAll("\u2060", "").includes(`+quote(words)+`));
		if (!o) return false; e.value = o.value; e.dispatchEvent(new Event("input", { bubbles: true })); e.dispatchEvent(new Event("change", { bubbles: true })); return true; })()`)
	if err == nil && !ok {
		err = fmt.Errorf("%s offers no %q", selector, words)
	}
	return err
}

// Keys presses keys, one after the other, into whatever has the focus.
func (b *Browser) Keys(keys string) error { return b.do(chromedp.KeyEvent(keys)) }

// Press presses one key without the letter that it would type: what a page
// does when it takes the key for itself.
func (b *Browser) Press(key string) error {
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		for _, kind := range []input.DispatchKeyEventType{"rawKeyDown", "keyUp"} {
			if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, input.DispatchKeyEventParams{Type: kind, Key: key}); err != nil {
				return err
			}
		}
		return nil
	}))
}

// emulateConditions is what browsers before version 150 or so know of the same: one
// condition for all addresses. The protocol's package no longer has it.
var emulateConditions = cdp.Command[network.Conditions, cdp.Empty]{Method: "Network.emulateNetworkConditions"}

// Offline cuts the page off from the network, or joins it again: by the newest command,
// and where the browser does not take that one, by the older.
func (b *Browser) Offline(off bool) error {
	all := network.Conditions{Offline: off, DownloadThroughput: -1, UploadThroughput: -1}
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if _, err := cdp.Call(ctx, t, network.Enable, network.EnableParams{}); err != nil {
			return err
		}
		_, newer := cdp.Call(ctx, t, network.EmulateNetworkConditionsByRule,
			network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: []*network.Conditions{&all}})
		if newer == nil {
			_, newer = cdp.Call(ctx, t, network.OverrideNetworkState,
				network.OverrideNetworkStateParams{Offline: off, DownloadThroughput: -1, UploadThroughput: -1})
		}
		if newer == nil && !older {
			return nil
		}
		if _, err := cdp.Call(ctx, t, emulateConditions, all); err != nil {
			return errors.Join(newer, err)
		}
		return nil
	}))
}

// older has the older command used though the browser takes the newer one, for the test
// of it.
var older bool

// Text returns the text of the whole page.
func (b *Browser) Text() (string, error) { return Eval[string](b, shownText) }

// shownText is what a page shows, with blanks that do not break as blanks.
const shownText = `document.body.innerText.replaceAll("\u00a0", " ").replaceAll("\u2060", "")`

// Path returns the path and the query of the page.
func (b *Browser) Path() (string, error) {
	return Eval[string](b, "location.pathname + location.search")
}

// PDF returns the page as it would be printed on A4.
func (b *Browser) PDF() ([]byte, error) {
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	const width, height = 8.27, 11.69 // in
	return chromedp.Run(ctx, func(ctx context.Context, t *chromedp.Target) ([]byte, error) {
		yes := true
		r, err := cdp.Call(ctx, t, page.PrintToPDF, page.PrintToPDFParams{PaperWidth: width, PaperHeight: height, PreferCSSPageSize: &yes,
			PrintBackground: &yes})
		if err != nil {
			return nil, err
		}
		return r.Data, nil
	})
}

// Picture returns the page as a PNG: what is in the window, or all of it.
func (b *Browser) Picture(whole bool) ([]byte, error) {
	if err := b.Wait(`document.fonts.status === "loaded"`); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(b.ctx, patience)
	defer cancel()
	if whole {
		return chromedp.Run(ctx, chromedp.FullScreenshot(100))
	}
	return chromedp.Run(ctx, chromedp.CaptureScreenshot())
}

// Allow lets pages show notifications, as somebody does who is asked.
func (b *Browser) Allow() error {
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, browser.SetPermission, browser.SetPermissionParams{
			Permission: &browser.PermissionDescriptor{Name: "notifications"}, Setting: browser.PermissionSettingGranted})
		return err
	}))
}

// Keyring gives the device something that makes and keeps passkeys, whose owner has always shown that
// it is they.
func (b *Browser) Keyring() error {
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if _, err := cdp.Call(ctx, t, webauthn.Enable, webauthn.EnableParams{}); err != nil {
			return err
		}
		_, err := cdp.Call(ctx, t, webauthn.AddVirtualAuthenticator, webauthn.AddVirtualAuthenticatorParams{Options: &webauthn.VirtualAuthenticatorOptions{
			Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal, HasResidentKey: true, HasUserVerification: true,
			AutomaticPresenceSimulation: true, IsUserVerified: true}})
		return err
	}))
}

// NotInstallable is why a browser would not install the page as an application.
func (b *Browser) NotInstallable() (out []string, err error) {
	err = b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		found, err := cdp.Call(ctx, t, page.GetInstallabilityErrors, cdp.Empty{})
		for _, e := range found.InstallabilityErrors {
			out = append(out, e.ErrorID)
		}
		return err
	}))
	return out, err
}

// Prefers has the device prefer something: "prefers-color-scheme: dark", "forced-colors: active".
func (b *Browser) Prefers(feature, value string) error {
	return b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: feature, Value: value}}})
		return err
	}))
}
