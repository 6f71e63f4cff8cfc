/** What had the focus last outside of menus and dialogs, which are gone when they close. */
let last: HTMLElement | undefined

if (typeof document !== 'undefined')
  document.addEventListener('focusin', ({ target }) => {
    if (target instanceof HTMLElement && !target.closest('[role="menu"], [role="dialog"], [role="listbox"]'))
      last = target
  })

/** Gives the focus back to where a dialog was opened; to the content where that is no longer there. */
export function focusBack(): void {
  const target = last?.isConnected ? last : document.getElementById('main')
  target?.focus()
}

let next = false

/** Has the content take the focus when `focusContent` is called next: what was open is left for another screen. */
export function focusContentNext(): void {
  next = true
}

/** Gives the focus to the content, where that was asked for. */
export function focusContent(): void {
  if (next) document.getElementById('main')?.focus()
  next = false
}
