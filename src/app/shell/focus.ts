/** What had the focus last that stays on the page: neither in a menu nor on the page as a whole. */
let last: HTMLElement | undefined

const STAYS = ':not(body, [role=menu], [role=menuitem], [role=menu] *)'

if (typeof document !== 'undefined')
  document.addEventListener('focusin', ({ target }) => {
    if (target instanceof HTMLElement && target.matches(STAYS)) last = target
  })

/** Where the focus is, or was before a menu took it. */
export function focusLeft(): HTMLElement | undefined {
  const { activeElement: now } = document
  return now instanceof HTMLElement && now.matches(STAYS) ? now : last
}

/** Gives the focus back to what had it; to the sheet where that is no longer there. */
export function returnFocus(before: HTMLElement | undefined): void {
  const there = before?.isConnected && before.getClientRects().length > 0 ? before : undefined
  ;(there ?? document.querySelector<HTMLElement>('[data-testid=sheet]'))?.focus({ preventScroll: true })
}

const FOCUSABLE = 'a[href], button, input, select, textarea, [tabindex]'

/** Goes on to what can be reached by Tab after a part of the page, whatever Tab does within it. */
export function leaveForwards(part: HTMLElement): void {
  const all = [...document.querySelectorAll<HTMLElement>(FOCUSABLE)]
  const next = all.find(
    (one) =>
      part.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING &&
      !part.contains(one) &&
      one.tabIndex >= 0 &&
      !one.matches(':disabled') &&
      one.getClientRects().length > 0,
  )
  next?.focus()
}
