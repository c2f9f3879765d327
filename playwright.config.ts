import { defineConfig } from '@playwright/test'

const chromium = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

// One worker: the benches are shared, as in a shop.
export default defineConfig({
  testDir: 'tests/e2e',
  workers: 1,
  timeout: 90_000,
  expect: { timeout: 10_000 },
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.TARAF_URL,
    trace: 'off',
    launchOptions: { executablePath: '/usr/bin/chromium', args: chromium },
  },
  projects: [
    { name: 'phone', use: { viewport: { width: 390, height: 844 }, hasTouch: true } },
    { name: 'wide', use: { viewport: { width: 1280, height: 800 } } },
  ],
})
