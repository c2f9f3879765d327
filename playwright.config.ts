import { defineConfig } from '@playwright/test'
import { launchOptions } from './scripts/lib/chromium.mjs'

// One worker: the benches are shared, as in a shop.
export default defineConfig({
  testDir: 'tests/e2e',
  workers: 1,
  timeout: 180_000,
  // Boards run in real time: a machine that pauses for half a second loses a link, and a press of its control, as it should. What
  // needed another try is said at the end of the run.
  retries: 2,
  expect: { timeout: 10_000 },
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.TARAF_URL,
    trace: 'off',
    // What is not there after half a minute is not coming: it is said then, not when the whole test runs out.
    actionTimeout: 30_000,
    screenshot: 'only-on-failure',
    launchOptions,
  },
  projects: [
    { name: 'phone', use: { viewport: { width: 390, height: 844 }, hasTouch: true } },
    { name: 'wide', use: { viewport: { width: 1280, height: 800 } }, grepInvert: /@phone/ },
  ],
})
