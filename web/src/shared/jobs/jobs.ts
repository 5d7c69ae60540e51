// Jobs at the cutter: what they are called, whether they can go on, and what can be done with them.

import { answer, api, type Schemas } from '../api/client'

export type Job = Schemas['JobOut']
export type JobAtWork = Schemas['JobAtWork']

const OPEN = new Set<Job['state']>(['cutting', 'paused', 'lost', 'off', 'no-film', 'stopped', 'waiting'])

/** Whether a job can still go on. */
export const isOpen = (job: Job) => OPEN.has(job.state)

/** A job whose end is not worked out yet. */
export const isMoving = (job: Job) =>
  job.state === 'cutting' || (job.state === 'done' && job.outcome === null)

/** How a job stands, in a word or two. */
export const STATE_WORDS: Record<Job['state'], string> = {
  waiting: 'not begun',
  cutting: 'being cut',
  paused: 'paused',
  lost: 'line lost',
  off: 'cutter was off',
  'no-film': 'film ran out',
  stopped: 'stopped',
  done: 'cut',
}

/** What goes on with a job that stands, in words. */
export const GO_ON: Partial<Record<Job['state'], string>> = {
  waiting: 'Cut it',
  paused: 'Go on',
  lost: 'Go on where it stopped',
  off: 'Go on where it stopped',
  'no-film': 'Cut it anew',
  stopped: 'Go on where it stopped',
}

export type Doing = 'start' | 'pause' | 'stop'

/** Starts, pauses or stops a job. Throws a Problem. */
export async function doTo(id: string, doing: Doing): Promise<Job> {
  const path = { params: { path: { job_id: id } } }
  if (doing === 'start') return answer(api.POST('/api/jobs/{job_id}/start', path))
  if (doing === 'pause') return answer(api.POST('/api/jobs/{job_id}/pause', path))
  return answer(api.POST('/api/jobs/{job_id}/stop', path))
}
