/** Names beside the ends of lines: top down, each at its place or so far lower that it is a gap under the one before, none past the foot. */
export function keptApart<T extends { y: number }>(items: T[], gap: number, foot: number): (T & { at: number })[] {
  let under = -Infinity
  const out = [...items]
    .sort((a, b) => a.y - b.y)
    .map((l) => {
      under = Math.max(l.y, under + gap)
      return { ...l, at: under }
    })
  const over = under - foot
  if (over > 0) for (const l of out) l.at -= over
  return out
}
