import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, api, asProblem } from '../../shared/api/client'
import type { Sheet } from '../../shared/design/cutPlan'
import { useDesign } from '../../shared/design/store'
import { type Doing, doTo, isMoving, type Job, type JobAtWork } from '../../shared/jobs/jobs'

const LOOK_MS = 300

/** The jobs of the design that is open, newest first. */
export function useJobs(): Job[] {
  const design = useDesign((s) => s.id)
  const query = useQuery({
    queryKey: ['jobs', design],
    queryFn: () => answer(api.GET('/api/jobs', { params: { query: { design } } })),
    enabled: design !== '',
    refetchInterval: ({ state }) => (state.data?.some(isMoving) ? LOOK_MS * 2 : false),
  })
  return query.data ?? NONE
}

const NONE: Job[] = []

/** The newest job of a sheet as it is now: one that was begun before a change is of another sheet. */
export const jobOf = (jobs: readonly Job[], sheet: Pick<Sheet, 'key'> | undefined): Job | undefined =>
  jobs.find((job) => job.key === sheet?.key && job.state !== 'waiting')

/** The job that is told below the sheets: the one at work, or that of the sheet that is looked at. */
export const jobToTell = (jobs: readonly Job[], sheet: Sheet | undefined): Job | undefined =>
  jobs.find((job) => job.state === 'cutting') ?? jobOf(jobs, sheet)

/** A job as it is at this moment. */
export function useWatched(job: Job | undefined): Job | JobAtWork | undefined {
  const query = useQuery({
    queryKey: ['job', job?.id],
    queryFn: () => answer(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: job?.id ?? '' } } })),
    enabled: job !== undefined && isMoving(job),
    refetchInterval: ({ state }) => (!state.data || isMoving(state.data) ? LOOK_MS : false),
    gcTime: 0,
  })
  if (!job) return undefined
  return query.data?.id === job.id && isMoving(job) ? query.data : job
}

/** The lines of a job, in the order in which they are cut. */
export function useLines(id: string | undefined) {
  return useQuery({
    queryKey: ['lines', id],
    queryFn: () => answer(api.GET('/api/jobs/{job_id}/lines', { params: { path: { job_id: id ?? '' } } })),
    enabled: id !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

/** A sheet to cut, or a job to go on with, to pause or to stop. */
type Wanted = { sheet: Pick<Sheet, 'key'>; index: number; anyway?: boolean } | { id: string; doing: Doing }

/** The job of a sheet that is being asked for, by the sheet's key: asked again before it is there, it is the same. */
const asked = new Map<string, string>()

/** Cuts the sheet that is shown, and no other: the server is told which that is. */
async function cutSheet({ key }: Pick<Sheet, 'key'>, index: number, anyway: boolean): Promise<Job> {
  const { id: design, name, recipe } = useDesign.getState()
  const before = asked.get(key)
  const job = before ?? crypto.randomUUID()
  asked.set(key, job)
  const body = { job, design, name, recipe, sheet: index, key, anyway }
  const { id } = await answer(api.POST('/api/cut/job', { body }))
  try {
    const started = await doTo(id, 'start')
    asked.delete(key)
    return started
  } catch (error) {
    // It was cut from the list of jobs meanwhile: this is one more.
    if (before === undefined || asProblem(error).kind !== 'job-done') throw error
    asked.delete(key)
    return cutSheet({ key }, index, anyway)
  }
}

/** Cuts sheets, and pauses, stops and goes on with jobs. */
export function useCutting() {
  const queries = useQueryClient()
  const cutting = useMutation({
    mutationFn: (wanted: Wanted) =>
      'sheet' in wanted
        ? cutSheet(wanted.sheet, wanted.index, wanted.anyway ?? false)
        : doTo(wanted.id, wanted.doing),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['jobs'] })
      void queries.invalidateQueries({ queryKey: ['job'] })
      void queries.invalidateQueries({ queryKey: ['cutter'] })
    },
    onError: (error) => {
      // What was refused because it has changed is to be seen as it is now.
      if (asProblem(error).kind === 'other-sheet') void queries.invalidateQueries({ queryKey: ['sheets'] })
    },
  })
  return {
    ask: cutting.mutate,
    busy: cutting.isPending,
    problem: cutting.error && asProblem(cutting.error).kind !== 'at-gate' ? asProblem(cutting.error) : null,
  }
}
