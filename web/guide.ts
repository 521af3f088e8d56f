import MarkdownIt from 'markdown-it'
import { readFileSync } from 'node:fs'
import { basename, dirname, relative, resolve } from 'node:path'
import type { Plugin } from 'vite'

const md = new MarkdownIt()

/** A page of docs/guide as a module: its title, its words, and HTML whose links and pictures lead into the application. */
export const guide: Plugin = {
  name: 'guide',
  transform(text, id) {
    if (!id.endsWith('.md')) return
    const pictures: string[] = []
    const tokens = md.parse(text, {})
    for (const token of tokens.flatMap((t) => t.children ?? [])) {
      const link = token.attrGet('href')
      if (link && /^\w+\.md$/.test(link)) token.attrSet('href', `/guide/${basename(link, '.md')}`)
      const picture = token.attrGet('src')
      if (picture) {
        pictures.push(resolve(dirname(id), picture))
        token.attrSet('src', `@picture${pictures.length - 1}@`)
        token.attrSet('loading', 'lazy')
        // A PNG says its size in its head: with it the text does not jump when the picture comes.
        const head = readFileSync(pictures[pictures.length - 1]!)
        token.attrSet('width', String(head.readUInt32BE(16)))
        token.attrSet('height', String(head.readUInt32BE(20)))
      }
    }
    const words: { page: string; word: string; means: string }[] = []
    let page = ''
    for (const line of text.replace(/\n(?![-#\n])/g, ' ').split('\n')) {
      page = /^## (.+)$/.exec(line)?.[1]?.toLowerCase() ?? page
      const m = /^- \*\*(.+?)\*\*: (.+)$/.exec(line)
      if (m && page) words.push({ page, word: m[1]!, means: m[2]!.trim() })
    }
    const imports = pictures.map((p, i) => `import p${i} from ${JSON.stringify(relative(dirname(id), p))}`)
    const html = md.renderer.render(tokens, md.options, {})
    return {
      code: `${imports.join('\n')}
export const title = ${JSON.stringify(/^# (.+)$/m.exec(text)?.[1] ?? '')}
export const words = ${JSON.stringify(words)}
export const html = [${pictures.map((_, i) => `p${i}`).join(', ')}].reduce((h, p, i) => h.replace('@picture' + i + '@', p), ${JSON.stringify(html)})
`,
      map: null,
    }
  },
}
