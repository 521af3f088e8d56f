/** A screen in the hand, on its side too, or one that is zoomed in by half: the same words as in the styles. */
export const handheld = '(max-width: 700px), (max-height: 500px)'
