import createClient from 'openapi-fetch'
import { uuid } from '../ui/uuid'
import type { paths, Problem } from './schema.gen'

/** The header that names whose a call is: as anybody else it is refused, and waits for them. */
export const onlyAs = 'Barn-Person'

/** What was sent and not answered, by what it says: sent again, it has the same number, and counts once. */
const unanswered = new Map<string, { number: string; at: number }>()
const rememberFor = 600_000

async function numbered(req: Request): Promise<Response> {
  // A press has a number of its own, a file is known by what is in it, and no password is remembered.
  const plain = req.method === 'GET' || req.headers.has(onlyAs) || !req.headers.get('Content-Type')?.includes('json')
  if (plain || /\/api\/(session|first-run|enter|me)(\/|$)/.test(new URL(req.url).pathname)) return fetch(req)
  const now = Date.now()
  for (const [of, w] of unanswered) if (now - w.at > rememberFor) unanswered.delete(of)
  const says = `${req.method} ${req.url} ${await req.clone().text()}`
  const number = unanswered.get(says)?.number ?? uuid()
  unanswered.delete(says)
  req.headers.set('Barn-Request', number)
  const keep = () => unanswered.set(says, { number, at: Date.now() })
  try {
    const answer = await fetch(req)
    if (answer.status >= 500) keep()
    return answer
  } catch (e) {
    keep()
    throw e
  }
}

export const api = createClient<paths>({ baseUrl: '/', fetch: numbered })

/** A refusal as the server words it, or that it could not be reached. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.title)
  }
}

/** What the barn said of a call that failed; null for what is a fault of the page. */
export const refusalOf = (err: unknown): Problem | null => (err instanceof Refused ? err.problem : null)

/** How long an answer may take before what is sent waits, ms. */
export const longest = 8000

const unreachable: Problem = {
  status: 0,
  title: 'White Barn does not answer.',
  remedy: 'Check that it runs and that you are on its network. What you typed is still here.',
  errors: [],
}

let askWhoIsHere = () => {}
/** What is done when the barn says that nobody is signed in. */
export const whenSignedOut = (f: () => void) => (askWhoIsHere = f)

/** The data of an answer, or a Refused. */
export async function ok<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await call
  } catch {
    throw new Refused(unreachable)
  }
  if (!answer.response.ok) {
    if (answer.response.status === 401) askWhoIsHere()
    const p = answer.error as Problem | undefined
    throw new Refused(p?.title ? p : { ...unreachable, status: answer.response.status })
  }
  return answer.data as T
}

/** Asks for what has no type of its own. */
async function raw<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response
  let answer: unknown
  try {
    response = await fetch(path, init)
    answer = await response.json()
  } catch {
    throw new Refused(unreachable)
  }
  if (!response.ok) throw new Refused(answer as Problem)
  return answer as T
}

/** Posts what has no type of its own: the input of a calculation. */
export const post = <T>(path: string, body: unknown) =>
  raw<T>(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })

/** Sends a file by itself. */
export const sendFile = <T>(path: string, file: File) =>
  raw<T>(path, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: file })

/** Gets a document. */
export const get = <T>(path: string) => raw<T>(path)

/** Sends a file and its options as a form. */
export function upload(file: File, body: unknown) {
  const form = new FormData()
  form.append('body', JSON.stringify(body))
  form.append('file', file)
  return form as never
}
