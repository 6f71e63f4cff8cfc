const KEY = 'theme'

export type Theme = 'light' | 'dark'

/** What was chosen on this visit: the browser may keep nothing. */
let chosen: Theme | undefined

function kept(): string | null {
  try {
    return localStorage.getItem(KEY)
  } catch {
    return null
  }
}

export const currentTheme = (): Theme => {
  const theme = chosen ?? kept()
  if (theme === 'light' || theme === 'dark') return theme
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

/** Shows a theme and remembers it, where the browser lets it. */
export function applyTheme(theme?: Theme): void {
  if (theme) {
    chosen = theme
    try {
      localStorage.setItem(KEY, theme)
    } catch {
      // Full or blocked: it holds until the page is left.
    }
  }
  document.documentElement.dataset['theme'] = currentTheme()
}
