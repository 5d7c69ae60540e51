import { QueryClient } from '@tanstack/react-query'
import { expect, test } from 'vitest'
import { isLastOne, KEEPING, whenKept } from './keeping'

function unanswered() {
  let answer: (value: unknown) => void = () => {}
  const answered = new Promise((resolve) => {
    answer = resolve
  })
  return { answered, answer: (value: unknown) => answer(value) }
}

const sending = (queries: QueryClient, answered: Promise<unknown>) =>
  queries
    .getMutationCache()
    .build(queries, { mutationKey: KEEPING, mutationFn: () => answered })
    .execute(undefined)

test('what is being kept is waited for, all of it', async () => {
  const queries = new QueryClient()
  await whenKept(queries)
  const answers = [unanswered(), unanswered()] as const
  const sent = answers.map(({ answered }) => sending(queries, answered))
  let kept = false
  const waiting = whenKept(queries).then(() => {
    kept = true
  })
  expect(isLastOne(queries)).toBe(false)
  answers[0].answer(1)
  await sent[0]
  expect(kept).toBe(false)
  expect(isLastOne(queries)).toBe(true)
  answers[1].answer(2)
  await waiting
  expect(kept).toBe(true)
})
