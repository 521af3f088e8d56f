interface Point {
  id: number
  x: number
  y: number
}
/** How far a finger may wander, px: a glove rolls. */
const wander = 24

/** A finger that comes down and goes up again near where it came down has pressed, however long it lay. */
export class Finger {
  private down: Point | null = null
  get lies(): boolean {
    return this.down !== null
  }
  touch(p: Point): void {
    this.down = p
  }
  /** Whether it was a press. */
  lift(p: Point): boolean {
    const d = this.down
    if (d?.id !== p.id) return false
    this.down = null
    return Math.hypot(p.x - d.x, p.y - d.y) <= wander
  }
  /** The browser took the finger for something else, as to scroll. */
  cancel(): void {
    this.down = null
  }
}

const buttons = 'button, [role="button"], summary, a[href]'
/** How long the click of a quick tap may take to come, ms. */
const patience = 90

/**
 * Makes a press of every touch of a button that was slow or wandered a little, of which the browser
 * makes none: a glove is heavy, and a phone lies in the other hand. Heard on the whole page.
 */
export function slowThumbs(page: Document): void {
  const finger = new Finger()
  let on: HTMLElement | null = null
  let clicked = false
  let ours: HTMLElement | null = null // pressed by us: its own click may still come
  const button = (e: Event) => (e.target instanceof Element ? e.target.closest<HTMLElement>(buttons) : null)
  const point = (e: PointerEvent) => ({ id: e.pointerId, x: e.clientX, y: e.clientY })
  page.addEventListener('pointerdown', (e) => {
    on = e.pointerType === 'mouse' ? null : button(e)
    clicked = false
    ours = null
    if (on) finger.touch(point(e))
  })
  page.addEventListener('pointerup', (e) => {
    const pressed = on
    if (!finger.lift(point(e)) || !pressed) return
    setTimeout(() => {
      if (clicked || on !== pressed || !pressed.isConnected) return
      ours = pressed
      pressed.click()
    }, patience)
  })
  page.addEventListener('pointercancel', () => finger.cancel())
  const heard = (e: MouseEvent) => {
    const late = e.isTrusted && ours !== null && button(e) === ours
    if (late) e.stopImmediatePropagation()
    clicked ||= on !== null && button(e) === on
  }
  page.addEventListener('click', heard, { capture: true })
  // What a long touch brings up would lie over what was pressed.
  page.addEventListener('contextmenu', (e) => finger.lies && e.preventDefault())
}
