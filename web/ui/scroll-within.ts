/** Brings an element to the top of what scrolls around it, and moves nothing else. */
export function scrollWithin(element: HTMLElement | null): void {
  const scroller = element?.closest<HTMLElement>('.overflow-auto')
  if (!element || !scroller) return
  scroller.scrollTop += element.getBoundingClientRect().top - scroller.getBoundingClientRect().top
}
