import { defineConfig } from '@playwright/test'

const launchOptions = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}

export default defineConfig({
  testDir: '.',
  timeout: 150_000,
  expect: { timeout: 15_000 },
  maxFailures: process.env.CI ? 0 : 2,
  // Browser, server and database keep two cores busy by themselves.
  workers: 1,
  forbidOnly: Boolean(process.env.CI),
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : 'list',
  outputDir: '../test-results',
  use: {
    actionTimeout: 20_000,
    launchOptions,
    // A trace makes each test half as long again; whoever wants one adds `--trace on`.
    screenshot: 'only-on-failure',
    locale: 'en-GB',
    timezoneId: 'Europe/Dublin',
  },
  projects: [
    { name: 'desk', testIgnore: /screenshots/, use: { viewport: { width: 1280, height: 800 } } },
    {
      name: 'phone',
      grepInvert: /@desk/,
      testIgnore: /screenshots/,
      use: { viewport: { width: 390, height: 844 }, hasTouch: true },
    },
    { name: 'screenshots', testMatch: /screenshots/, use: { viewport: { width: 1280, height: 800 } } },
  ],
})
