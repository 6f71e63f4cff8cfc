import axeCore from 'axe-core'
import { expect, type Locator, type Page } from '@playwright/test'

export const BUILD = '/build/b-observatory'
/** A build whose purchases are proven within seconds. */
export const SMALL_BUILD = '/build/b-winch-house'

const SIZES = ['1x1', '1x2', '1x3', '1x4', '1x6', '1x8', '2x2', '2x3', '2x4', '2x6', '2x8', '4x4']
const FAMILIES = ['plate', 'brick', 'tile', 'slope', 'round plate']
const COLOURS = ['Soot', 'Chalk', 'Gentian', 'Rowanberry', 'Spruce', 'Oatmeal', 'Peat']
/** The i-th of very many different items, told apart by a pattern where size and colour do not: "plate 2x4 no 7". */
export const itemAt = (i: number) => {
  const colour = COLOURS[i % 7]
  const family = FAMILIES[Math.floor(i / 7) % 5]
  const size = SIZES[Math.floor(i / 35) % 12]
  return `${family} ${size} pattern ${Math.floor(i / 420)},${colour}`
}

/** Every screen, with those of a build. */
export const screensOf = (build: string): readonly string[] => [
  '/',
  '/shelf',
  '/shops',
  '/parcels',
  '/ledgers',
  '/together',
  '/catalogue',
  '/catalogue?view=parts',
  '/catalogue?view=colours',
  '/data',
  ...[
    'brief',
    'donors',
    'donors?view=worth',
    'donors?view=offered',
    'design',
    'design?view=versions',
    'design?view=colourways',
    'design?view=yield',
    'design?view=figures',
    'design?view=sheet',
    'design?view=trial',
    'tally',
    'tally?by=item',
    'tally?by=source',
    'colours',
    'buy',
    'parcels',
    'parcels?view=ready',
    'make',
    'make?view=build',
    'make?view=swaps',
    'ledger',
    'ledger?view=entries',
    'ledger?view=surplus',
    'ledger?view=log',
    'ledger?view=sheet',
  ].map((step) => `${build}/${step}`),
]

/** Loads the demo into a fresh profile and opens a screen. */
export async function openDemo(page: Page, path: string): Promise<void> {
  await page.goto(`${path}${path.includes('?') ? '&' : '?'}demo`)
  // It leaves the address when everything is there to be seen.
  await page.waitForFunction(() => !new URLSearchParams(location.search).has('demo'))
  await settled(page, 60)
}

/** Starts a build in an empty profile by keyboard, as its dialog takes it; gives its address. */
export async function startBuild(page: Page, name: string): Promise<string> {
  await page.goto('/')
  await page.getByRole('button', { name: 'New build' }).click()
  await expect(page.getByRole('dialog').getByLabel('Name')).toBeFocused()
  await page.keyboard.type(name)
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/brief$/)
  return new URL(page.url()).pathname.replace(/\/brief$/, '')
}

/** Goes to a screen as its links do, the data being open already. */
export async function goWithin(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState({}, '', to)
    dispatchEvent(new PopStateEvent('popstate', { state: {} }))
  }, path)
  await page.waitForFunction((to) => location.pathname + location.search === to, path)
}

/** Waits until the screen stands still: its heading is there, it waits for no study, and nothing has changed for a moment. */
export async function settled(page: Page, quietMs = 120): Promise<void> {
  await page.getByRole('heading', { level: 1 }).first().waitFor()
  await page.evaluate(
    (quiet) =>
      new Promise<void>((resolve) => {
        const most = performance.now() + 3000
        let changed = performance.now()
        const watch = new MutationObserver(() => {
          changed = performance.now()
        })
        watch.observe(document.body, { subtree: true, childList: true, characterData: true })
        const look = setInterval(() => {
          const now = performance.now()
          const busy = document.querySelector('[aria-busy=true]') !== null
          if ((busy || now - changed < quiet) && now < most) return
          clearInterval(look)
          watch.disconnect()
          resolve()
        }, 20)
      }),
    quietMs,
  )
}

/** The screen's answer in one sentence. */
export const headline = (page: Page) => page.locator('header p')

/** A number as the screens write it, with thin spaces. */
export const grouped = (n: number) => n.toLocaleString('en').replace(/,/g, '\u202f')

/** The number that a pattern finds in the headline, once it says something of the kind. */
export async function told(page: Page, pattern: RegExp): Promise<number> {
  await expect(headline(page)).toHaveText(pattern)
  return Number(pattern.exec((await headline(page).textContent()) ?? '')?.[1]?.replace(/\u202f/g, ''))
}

/** Fills a field and commits it. */
export async function commit(page: Page, label: string | RegExp, text: string): Promise<void> {
  await page.getByLabel(label).fill(text)
  await page.getByLabel(label).press('Enter')
}

export async function choose(page: Page, label: string | RegExp, option: string | RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label }).click()
  await page.getByRole('option', { name: option, exact: true }).click()
}

/** The texts of the cells of a table's rows that are in the page, from the top. */
export const cellsOf = (grid: Locator): Promise<string[][]> =>
  grid.locator('[role=rowgroup] > [role=row][aria-rowindex]').evaluateAll((rows) =>
    rows
      .map((row) => ({
        at: Number(row.getAttribute('aria-rowindex')),
        cells: [...row.querySelectorAll('[role=gridcell]')].map((cell) => cell.textContent ?? ''),
      }))
      .filter(({ cells }) => cells.length > 0)
      .sort((p, q) => p.at - q.at)
      .map(({ cells }) => cells),
  )

async function ask(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Ask the market' }).click()
  await expect(page.getByText(/usable offers from \d+ shops/)).toBeVisible()
}

const found = async (page: Page): Promise<string> => {
  await expect(page.getByText('What it is made of')).toBeVisible()
  return (await headline(page).textContent()) ?? ''
}

/** On Buy: asks the market and has the cheapest orders found, as well as ten seconds allow; gives the headline. */
export async function plan(page: Page): Promise<string> {
  await ask(page)
  await choose(page, 'Time limit', 'at most 10 s')
  await page.getByRole('button', { name: 'Find the cheapest orders' }).click()
  return found(page)
}

/** On Buy: asks the market, has orders found, and keeps the first that were checked, as is enough for most; gives the headline. */
export async function anyPlan(page: Page): Promise<string> {
  await ask(page)
  await page.getByRole('button', { name: /^Find the cheapest/ }).click()
  await keepFirst(page)
  return found(page)
}

/** On Buy: asks the market and has the cheapest orders found and proven, as a small build allows; gives the headline. */
export async function proven(page: Page): Promise<string> {
  await ask(page)
  await page.getByRole('button', { name: /^Find the cheapest/ }).click()
  return found(page)
}

/** Stops the run that goes on as soon as it has found something. */
export async function keepFirst(page: Page): Promise<void> {
  await expect(page.getByText(/Best so far [\d.]+/)).toBeVisible()
  await page.getByRole('button', { name: 'Stop, keep the best' }).click()
}

/** Axe, which looks at the contrast of marked elements alone. */
const AXE = `${axeCore.source}
axe.configure({ rules: [{ id: 'color-contrast', selector: '[data-contrast]' }] })`

/**
 * Marks elements with text for axe's look at their contrast, the first two and the last of each kind: those whose colours,
 * size and backgrounds are the same look alike, and of a sheet of 9,000 elements each look takes a millisecond.
 */
const markKinds = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const behind = new Map<Element | null, string>([[null, '']])
    const groundOf = (element: Element | null): string => {
      const known = behind.get(element)
      if (known !== undefined || !element) return known ?? ''
      const { backgroundColor, backgroundImage, opacity, filter, position } = getComputedStyle(element)
      const own = [backgroundColor, backgroundImage, opacity, filter, position === 'static' ? '' : position].join()
      const ground =
        own === 'rgba(0, 0, 0, 0),none,1,none,'
          ? groundOf(element.parentElement)
          : `${own}/${groundOf(element.parentElement)}`
      behind.set(element, ground)
      return ground
    }
    const kinds = new Map<string, Element[]>()
    for (const element of document.querySelectorAll('body *')) {
      element.removeAttribute('data-contrast')
      const says =
        element.matches('input, textarea, select') ||
        [...element.childNodes].some((n) => n.nodeType === 3 && n.nodeValue?.trim())
      if (!says || !element.checkVisibility({ visibilityProperty: true })) continue
      const { color, fontSize, fontWeight, textShadow, display } = getComputedStyle(element)
      const kind = [element.tagName, color, fontSize, fontWeight, textShadow, display, groundOf(element)].join('|')
      kinds.set(kind, [...(kinds.get(kind) ?? []), element])
    }
    for (const alike of kinds.values())
      for (const element of new Set([...alike.slice(0, 2), ...alike.slice(-1)]))
        element.setAttribute('data-contrast', '')
  })

/**
 * What axe finds on a page without frames, in words; by its usual rules, by those with some tags, or of contrast alone.
 * A page keeps the axe that it was given.
 */
export async function axeFinds(page: Page, rules: 'usual' | 'contrast' | string[] = 'usual'): Promise<string[]> {
  await markKinds(page)
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(AXE)
  return page.evaluate(
    async (runOnly) => {
      const { axe } = window as unknown as { axe: typeof axeCore }
      const { violations } = await axe.run(document, { resultTypes: ['violations'], ...(runOnly && { runOnly }) })
      return violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)
    },
    rules === 'contrast'
      ? { type: 'rule' as const, values: ['color-contrast'] }
      : rules === 'usual'
        ? undefined
        : { type: 'tag' as const, values: rules },
  )
}
