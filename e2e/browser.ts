import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

/** The size for which the interface is made. */
export const VIEWPORT = { width: 1280, height: 800 } as const;

/** How long something on the page is waited for, ms: a busy machine may take minutes over what is there at once on another. */
export const PATIENCE = Number(process.env.LOOM_E2E_PATIENCE ?? 150_000);

/** A headless Chromium of Debian's, with a profile of its own that goes with it. */
export async function openBrowser(): Promise<{ browser: Browser; page: Page; close: () => Promise<void> }> {
  const profile = await mkdtemp(join(tmpdir(), 'owl-loom-browser-'));
  const browser = await puppeteer.launch({
    executablePath: '/usr/bin/chromium',
    headless: true,
    userDataDir: profile,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--force-color-profile=srgb',
      '--mute-audio',
    ],
  });
  const [page] = await browser.pages();
  await page.setViewport(VIEWPORT);
  page.setDefaultTimeout(PATIENCE);
  // Words for newcomers lie over what is looked at; who wants them takes this away.
  await page.evaluateOnNewDocument(
    `localStorage.getItem('owl-loom-lead') ?? localStorage.setItem('owl-loom-lead', '9')`,
  );
  return {
    browser,
    page,
    close: async () => {
      await browser.close();
      await rm(profile, { recursive: true, force: true });
    },
  };
}
