// Package browser drives headless Chromium for tests and screenshots. It may
// reach this machine alone.
package browser

import (
	"context"
	"fmt"
	"os"
	"time"

	"github.com/chromedp/chromedp"
)

// Start starts Chromium with more options of its own; done ends it and removes what it wrote.
func Start(ctx context.Context, timeout time.Duration, more ...chromedp.ExecAllocatorOption) (browser context.Context, done func(), err error) {
	dir, err := os.MkdirTemp("", "zealousknot-chromium-")
	if err != nil {
		return nil, nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath("chromium"), chromedp.UserDataDir(dir), chromedp.Env("TMPDIR="+dir), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("host-resolver-rules", "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1"))
	options = append(options, more...)
	ctx, stopTime := context.WithTimeout(ctx, timeout)
	allocated, stopAllocator := chromedp.NewExecAllocator(ctx, options...)
	browser, stopBrowser := chromedp.NewContext(allocated)
	done = func() {
		stopBrowser()
		stopAllocator()
		// What it still writes would be left behind.
		if c := chromedp.FromContext(browser); c.Allocator != nil {
			c.Allocator.Wait()
		}
		stopTime()
		_ = os.RemoveAll(dir)
	}
	if err := chromedp.Run(browser); err != nil {
		done()
		return nil, nil, fmt.Errorf("chromium (Debian package: chromium): %w", err)
	}
	return browser, done, nil
}
