const KEY = 'theme'

export type Theme = 'light' | 'dark'

export const currentTheme = (): Theme => {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function applyTheme(theme?: Theme): void {
  if (theme) localStorage.setItem(KEY, theme)
  document.documentElement.dataset['theme'] = currentTheme()
}
