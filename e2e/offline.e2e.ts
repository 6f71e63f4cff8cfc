import { expect } from '@playwright/test'
import { BUILD, headline, openDemo } from './demo.ts'
import { test } from './profile.ts'

test.use({ serviceWorkers: 'allow', ownProfile: true })

test('the app opens and works without a network; only the market says that it needs one', async ({ page, context }) => {
  await openDemo(page, '/data')
  await page.evaluate(async () => {
    const { active, installing, waiting } = await navigator.serviceWorker.ready
    const worker = active ?? waiting ?? installing
    while (worker && worker.state !== 'activated') await new Promise((done) => setTimeout(done, 50))
  })
  await context.setOffline(true)
  await page.goto(`${BUILD}/tally`)
  await expect(headline(page)).toContainText('are short')
  // What was never opened before is there too.
  for (const path of ['/catalogue', '/shops', `${BUILD}/design?view=yield`, `${BUILD}/colours`]) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await expect(page.getByText(/Something went wrong/)).toHaveCount(0)
  }
  await page.goto('/data')
  await expect(page.getByText('This browser keeps the whole app')).toBeVisible()
  await page.goto(`${BUILD}/buy`)
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await expect(page.getByRole('main').getByRole('alert')).toContainText('The market cannot be reached')
  // An import with its worker, and the edit is there after opening it again.
  await page.goto('/shelf')
  await page.getByRole('combobox', { name: 'New holding' }).fill('3 plate 2x8 Soot')
  await page.getByRole('combobox', { name: 'New holding' }).press('Enter')
  await expect(headline(page)).toContainText('342 holdings')
  await page.reload()
  await expect(headline(page)).toContainText('342 holdings')
})

test('the app can be installed: its manifest names it, its icons are there, and nothing of it is left out', async ({
  page,
  request,
}) => {
  await page.goto('/')
  const href = await page.locator('link[rel=manifest]').getAttribute('href')
  const manifest = (await (await request.get(href ?? '')).json()) as { name: string; icons: { src: string }[] }
  expect(manifest).toMatchObject({ name: 'Unfinished Brick', display: 'standalone', start_url: '/' })
  for (const { src } of manifest.icons) expect((await request.get(src)).status()).toBe(200)
  // Every script, style, font and module of the build is in the list of what is kept.
  const worker = await (await request.get('/sw.js')).text()
  const scripts = await page.evaluate(() =>
    performance.getEntriesByType('resource').map((r) => new URL(r.name).pathname),
  )
  for (const path of scripts.filter((p) => p.startsWith('/assets/'))) expect(worker).toContain(path.slice(1))
})
