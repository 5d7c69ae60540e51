// The server, typed from its OpenAPI description. Every failure becomes a Problem to show.

import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type ProblemOut = Schemas['ProblemOut']

export const api = createClient<paths>({ baseUrl: '/' })

/** Says with each request which design it is about: the server answers those of one design at the same place. */
class AboutDesign {
  id = ''

  onRequest = ({ request }: { request: Request }) => {
    if (this.id) request.headers.set('X-Fulgen-Design', this.id)
    return request
  }
}

export const aboutDesign = new AboutDesign()
api.use(aboutDesign)

/** Something a person can put right; `away` when the server did not answer at all. */
export class Problem extends Error {
  readonly kind: string
  readonly todo: string
  readonly faces: string[]

  constructor({ kind, what, todo, faces }: Pick<ProblemOut, 'kind' | 'what' | 'todo' | 'faces'>) {
    super(what)
    this.kind = kind
    this.todo = todo
    this.faces = faces
  }

  get away() {
    return this.kind === 'away'
  }
}

const AWAY = {
  kind: 'away',
  what: 'The server is away.',
  todo: 'Go on working; Fulgen saves as soon as it is back.',
  faces: [],
}

/** The data of an answer, or a Problem thrown. */
export async function answer<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result: Awaited<typeof call>
  try {
    result = await call
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Problem(AWAY)
  }
  if (result.response.ok) return result.data as T
  throw problemFrom(result.error, result.response.status)
}

function problemFrom(error: unknown, status: number): Problem {
  const said = error as Partial<ProblemOut> | undefined
  if (said?.what && said.kind)
    return new Problem({ kind: said.kind, what: said.what, todo: said.todo ?? '', faces: said.faces ?? [] })
  return new Problem(status === 413 ? TOO_LARGE : FAILED)
}

const TOO_LARGE = {
  kind: 'too-large',
  what: 'That is more than Fulgen takes at once.',
  todo: 'Send less.',
  faces: [],
}
const FAILED = {
  kind: 'server',
  what: 'Something went wrong inside Fulgen.',
  todo: 'Your design is safe. Try again.',
  faces: [],
}

/** Any thrown thing as a Problem. */
export function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error
  return new Problem({
    kind: 'page',
    what: 'Something went wrong on this page.',
    todo: 'Reload it; your design is kept.',
    faces: [],
  })
}
