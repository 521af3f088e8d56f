/** A number of bytes as people say it. */
export function megabytes(bytes: number): string {
  if (bytes >= 2 ** 30) return `${(bytes / 2 ** 30).toFixed(1)} GB`
  if (bytes >= 2 ** 20) return `${Math.round(bytes / 2 ** 20)} MB`
  return `${Math.max(1, Math.round(bytes / 1024))} kB`
}
