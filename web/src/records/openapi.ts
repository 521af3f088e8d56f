/** A description of the API (OpenAPI 3.0), as far as its page goes by it. */
export interface Schema {
  $ref?: string
  type?: string
  format?: string
  description?: string
  enum?: string[]
  nullable?: boolean
  items?: Schema
  allOf?: Schema[]
  properties?: Record<string, Schema>
  required?: string[]
  additionalProperties?: Schema | boolean
}
interface Content {
  content?: Record<string, { schema: Schema }>
}
interface Operation {
  operationId: string
  parameters?: { name: string; in: string; schema: Schema; description?: string }[]
  requestBody?: Content
  responses: Record<string, Content>
}
export interface Described {
  paths: Record<string, Record<string, Operation>>
  components: { schemas: Record<string, Schema> }
}

export interface Listed {
  id: string
  method: string
  path: string
  parameters: { name: string; in: string; type: string; says: string }[]
  parts: { title: string; schema: Schema }[]
}

/** All that can be asked, by path. */
export function listed(doc: Described): Listed[] {
  return Object.entries(doc.paths)
    .flatMap(([path, of]) =>
      Object.entries(of).map(([method, o]) => {
        const sent = Object.values(o.requestBody?.content ?? {})[0]?.schema
        const [status, answer] = Object.entries(o.responses).find(([s]) => s !== 'default') ?? []
        const got = Object.values(answer?.content ?? {})[0]?.schema
        return {
          id: o.operationId,
          method: method.toUpperCase(),
          path,
          parameters: (o.parameters ?? []).map((p) => ({
            name: p.name,
            in: p.in,
            type: typeOf(p.schema),
            says: p.description ?? '',
          })),
          parts: [
            ...(sent ? [{ title: 'Sent', schema: sent }] : []),
            ...(got ? [{ title: `Answered, ${status}`, schema: got }] : []),
          ],
        }
      }),
    )
    .sort((a, b) => a.path.localeCompare(b.path) || a.method.localeCompare(b.method))
}

const nameOf = (ref: string) => ref.slice(ref.lastIndexOf('/') + 1)

/** A type in a word or two. */
export function typeOf(s: Schema): string {
  const or = s.nullable ? ' or null' : ''
  if (s.$ref) return nameOf(s.$ref)
  if (s.allOf?.[0]) return typeOf(s.allOf[0]) + or
  if (s.enum) return s.enum.map((e) => `"${e}"`).join(' | ') + or
  if (s.type === 'array') return `list of ${typeOf(s.items ?? {})}${or}`
  if (typeof s.additionalProperties === 'object') return `${typeOf(s.additionalProperties)} by name${or}`
  return (s.format === 'date-time' ? 'moment' : (s.type ?? 'anything')) + or
}

const deepest = 2

/** The fields of a type with what they say of themselves, those of its parts under them. */
export function schemaLines(doc: Described, s: Schema, depth = 0, seen: string[] = []): string[] {
  const inner = s.type === 'array' ? (s.items ?? {}) : (s.allOf?.[0] ?? s)
  const name = inner.$ref ? nameOf(inner.$ref) : ''
  const type = name ? (doc.components.schemas[name] ?? {}) : inner
  const indent = '  '.repeat(depth)
  const lines = depth === 0 ? [`${typeOf(s)}${type.description ? `: ${type.description}` : ''}`] : []
  if (depth > deepest || (name && seen.includes(name))) return lines
  for (const [field, of] of Object.entries(type.properties ?? {})) {
    const always = type.required?.includes(field) ? '' : ' (may be missing)'
    lines.push(`${indent}  ${field}: ${typeOf(of)}${always}${of.description ? `  ${of.description}` : ''}`)
    lines.push(...schemaLines(doc, of, depth + 1, name ? [...seen, name] : seen))
  }
  return lines
}
