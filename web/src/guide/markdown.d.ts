declare module '*.md' {
  export const title: string
  export const html: string
  export const words: { page: string; word: string; means: string }[]
}
