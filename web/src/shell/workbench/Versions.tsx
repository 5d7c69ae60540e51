import { Box, Button, CloseButton, chakra, Flex, Input, Spinner, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { create } from 'zustand'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { whenSaved } from '../../shared/design/autosave'
import type { Recipe } from '../../shared/design/recipe'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { evaluationOf } from '../../shared/evaluation/driver'
import { outlineOf } from '../../shared/evaluation/evaluation'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { glanceAt } from '../../shared/view/glance'

type Version = Schemas['DesignVersion']

export const useVersions = create<{ open: boolean }>()(() => ({ open: false }))
export const showVersions = (open: boolean) => {
  glanceAt(null)
  useVersions.setState({ open })
}

const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })

const Entry = chakra('button', {
  base: {
    display: 'block',
    width: '100%',
    textAlign: 'left',
    p: '3',
    borderWidth: '1px',
    borderColor: 'rule',
    borderRadius: 'md',
    bg: 'card',
    cursor: 'pointer',
    _hover: { borderColor: 'edge' },
    '&[aria-pressed=true]': { borderColor: 'ink', boxShadow: '0 0 0 1px {colors.ink}' },
  },
})

/** The recipe of a version that is kept. */
const recipeOf = (design: string, number: number) => ({
  queryKey: ['version', design, number],
  queryFn: async () => {
    const path = { design_id: design, number }
    const told = await answer(api.GET('/api/designs/{design_id}/versions/{number}', { params: { path } }))
    return told.recipe as Recipe
  },
  staleTime: Number.POSITIVE_INFINITY,
})

/** What the design was at earlier moments: with a picture, compared on the work, brought back, or named and kept. */
export function Versions() {
  const design = useDesign((s) => s.id)
  const queries = useQueryClient()
  const [chosen, choose] = useState<number | null>(null)
  const list = useQuery({
    queryKey: ['versions', design],
    queryFn: async () => {
      await whenSaved()
      const params = { path: { design_id: design } }
      return answer(api.GET('/api/designs/{design_id}/versions', { params }))
    },
    staleTime: 0,
  })
  useEffect(() => () => glanceAt(null), [])
  async function look(version: Version) {
    if (version.number === chosen) {
      choose(null)
      return glanceAt(null)
    }
    choose(version.number)
    const recipe = await queries.fetchQuery(recipeOf(design, version.number))
    glanceAt({ kind: 'version', recipe })
  }
  const bring = useMutation({
    mutationFn: (version: Version) => queries.fetchQuery(recipeOf(design, version.number)),
    onSuccess: (recipe) => {
      showVersions(false)
      editRecipeOnce(recipe)
    },
  })
  const naming = useMutation({
    mutationFn: ({ number, name }: { number: number; name: string }) =>
      answer(
        api.PUT('/api/designs/{design_id}/versions/{number}', {
          params: { path: { design_id: design, number } },
          body: { name },
        }),
      ),
    onSuccess: (told) => queries.setQueryData(['versions', design], told),
  })
  const error = list.error ?? bring.error ?? naming.error
  const [newest, ...earlier] = list.data ?? []
  return (
    <Flex
      as="aside"
      aria-label="Versions"
      direction="column"
      width="panel"
      flexShrink="0"
      bg="card"
      borderLeftWidth="1px"
      borderColor="rule"
      minHeight="0"
    >
      <Flex px="4" py="3" align="center" borderBottomWidth="1px" borderColor="rule">
        <Text as="h2" fontSize="lg" fontWeight="700" flex="1">
          Versions
        </Text>
        <CloseButton size="sm" aria-label="Close the versions" onClick={() => showVersions(false)} />
      </Flex>
      <Flex direction="column" gap="3" p="4" overflowY="auto" flex="1" minHeight="0">
        {error && <ProblemNote what={asProblem(error).message} todo={asProblem(error).todo} />}
        {list.isPending && <Spinner />}
        {newest && earlier.length === 0 && <Text color="softInk">Nothing has been changed yet.</Text>}
        {earlier.map((version) => (
          <Box key={version.number} as="section" aria-label={WHEN.format(new Date(version.made))}>
            <Entry
              type="button"
              aria-pressed={version.number === chosen}
              aria-label={`Compare with ${WHEN.format(new Date(version.made))}`}
              onClick={() => look(version)}
            >
              <Picture design={design} number={version.number} />
              <Text fontWeight="600" mt="2">
                {version.name || WHEN.format(new Date(version.made))}
              </Text>
              <Text fontSize="sm" color="softInk">
                {version.name && `${WHEN.format(new Date(version.made))}. `}
                {version.changes.join('; ')}
              </Text>
            </Entry>
            {version.number === chosen && (
              <Flex gap="2" mt="2">
                <Input
                  aria-label="Name of this version"
                  placeholder="Name it to keep it"
                  size="sm"
                  maxLength={80}
                  defaultValue={version.name}
                  onBlur={(e) =>
                    e.target.value !== version.name &&
                    naming.mutate({ number: version.number, name: e.target.value })
                  }
                  onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
                />
                <Button
                  size="sm"
                  bg="ink"
                  color="card"
                  flexShrink="0"
                  loading={bring.isPending}
                  onClick={() => bring.mutate(version)}
                >
                  Bring it back
                </Button>
              </Flex>
            )}
          </Box>
        ))}
      </Flex>
    </Flex>
  )
}

/** What a version looks like; worked out when it comes into sight. */
function Picture({ design, number }: { design: string; number: number }) {
  const frame = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    if (!frame.current) return
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting && setSeen(true))
    observer.observe(frame.current)
    return () => observer.disconnect()
  }, [])
  const recipe = useQuery({ ...recipeOf(design, number), enabled: seen })
  const drawn = useQuery({
    queryKey: ['version-picture', design, number],
    queryFn: async ({ signal }) => (await evaluationOf(recipe.data as Recipe, signal)).evaluation,
    enabled: recipe.data !== undefined,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const box = drawn.data?.box
  return (
    <Box ref={frame} height="92px" bg="paper" borderRadius="sm" p="2">
      {drawn.data && box && (
        <svg
          width="100%"
          height="100%"
          viewBox={`${box.x} ${box.y} ${Math.max(box.width, 1)} ${Math.max(box.height, 1)}`}
          aria-hidden="true"
        >
          {drawn.data.films.map((film) => (
            <path key={film.colour} d={outlineOf(film)} fill={film.colour} />
          ))}
        </svg>
      )}
    </Box>
  )
}
