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
