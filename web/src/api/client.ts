// Calls to the API, typed by its schema. A failed call throws a Problem whose message is a sentence for the user.
import createClient from 'openapi-fetch'
import { patient } from './patience'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
/** What the server sends has every field; only what is sent to it may leave out those with defaults. */
type Filled<T> = T extends (infer U)[] ? Filled<U>[] : T extends object ? { [K in keyof T]-?: Filled<Exclude<T[K], undefined>> } : T
export type DrawingState = Filled<Schemas['DrawingState']>
export type DrawingCard = Schemas['DrawingCard']
export type ModelCard = Schemas['ModelCard']
export type ModelPage = Schemas['ModelPage']
export type MaterialRow = Schemas['MaterialRow']
export type JobState = Schemas['JobState']
export type SheetDrawn = Schemas['SheetDrawn']
export type ViewInk = Schemas['ViewInk']
export type View = Filled<Schemas['View']>
export type Sheet = Filled<Schemas['Sheet']>
export type Orientation = Schemas['Orientation']
export type Answer = Omit<Schemas['Answer'], 'annotations'> & { annotations: Annotation[] }
export type Picked = Schemas['Picked']
export type Annotation = Sheet['annotations'][number]
export type Command = Schemas['Edit']['command']
export type ProposedView = Schemas['ProposedView']
export type Proposed = Schemas['Proposed']
export type Interruption = Filled<Schemas['Interruption']>
export type DetailOutline = Filled<Schemas['DetailOutline']>
export type Me = Schemas['Me']
export type People = Schemas['People']
export type Relation = Schemas['PlaceProjectedView']['relation']

export interface ViewCurve {
  kind: 'line' | 'arc' | 'ellipse' | 'polyline'
  data: number[]
  edge_class: 'sharp' | 'smooth' | 'silhouette' | 'cut' | 'thread' | 'break'
  visible: boolean
  instance: number
  source: string
  role: 'edge' | 'silhouette' | 'cut' | 'added' | 'underlay'
  feature: string
}
export interface ViewGeometry {
  curves: ViewCurve[]
  instances: string[]
  low: number[]
  high: number[]
  seen?: Schemas['Seen'] | null
  trails?: Schemas['Trail'][]
}

export class Problem extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly state?: DrawingState,
  ) {
    super(message)
  }
}

export function csrfToken(): string {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? ''
}

export const api = createClient<paths>({ baseUrl: '/', fetch: (request: Request) => patient(request) })
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
})

interface Reply<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer; throws a Problem with the server's sentence, or one of our own where it sent none. */
export async function data<T>(call: Promise<Reply<T>>): Promise<T> {
  let answer: Reply<T>
  try {
    answer = await call
  } catch {
    throw new Problem('Moorcrest does not answer. What was kept is safe; it goes on when the server is back.', 0)
  }
  if (answer.response.ok) return answer.data as T
  const body = (answer.error ?? {}) as { message?: string; detail?: string; state?: DrawingState }
  const fallback =
    answer.response.status === 401 ? 'You are logged out. Log in again to go on.'
    : answer.response.status === 404 ? 'That is not in this workspace.'
    : 'Moorcrest could not do that just now.'
  throw new Problem(body.message ?? (answer.response.status === 404 ? fallback : (body.detail ?? fallback)), answer.response.status, body.state)
}

/** Files sent together may refer to each other: a STEP assembly and its parts, recipes, or a zip of them. */
export async function uploadModels(files: File[]): Promise<JobState> {
  return uploadTo('/api/models', ...files)
}

/** Send files to a route that answers with the job that reads them. */
export async function uploadTo(address: string, ...files: File[]): Promise<JobState> {
  const form = new FormData()
  for (const file of files) form.append('file', file)
  const name = files.length > 1 ? `${files[0].name} and ${files.length - 1} more` : files[0].name
  const response = await fetch(address, { method: 'POST', body: form, headers: { 'X-CSRFToken': csrfToken() } }).catch(() => null)
  if (!response) throw new Problem(`${name} could not be sent: Moorcrest does not answer.`, 0)
  if (!response.ok) {
    const said = (await response.json().catch(() => ({}))) as { message?: string }
    throw new Problem(said.message ?? `${name} could not be brought in.`, response.status)
  }
  return (await response.json()) as JobState
}

export const pause = (milliseconds: number) => new Promise<void>((done) => setTimeout(done, milliseconds))

/** Asks for a job until it has ended; each state that it is seen in is told. */
export async function ended(job: JobState, seen: (now: JobState) => void = () => {}): Promise<JobState> {
  let now = job
  while (now.state === 'waiting' || now.state === 'running') {
    seen(now)
    await pause(150)
    now = await data(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } }))
  }
  return now
}
