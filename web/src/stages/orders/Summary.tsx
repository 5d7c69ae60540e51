import { Button, Flex, Text } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { api } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { counted } from '../../shared/design/counted'
import { FindingMark } from '../../shared/fields/FindingMark'
import { copiesToCut, rowsShown, type Shown } from './order'
import { Strip } from './Strip'
import { look } from './store'
import { problemOf, useOrderId, useRowChanges, useRows } from './useOrder'

/** How the rows stand, and what comes next. */
export function Summary() {
  const id = useOrderId()
  const { rows, counts, working, stopped, workers } = useRows()
  const changes = useRowChanges()
  const proof = useMutation({
    mutationFn: () => download(api.POST('/api/orders/proof', { body: { order: id }, parseAs: 'blob' })),
  })
  if (counts.rows === 0) return null
  const copies = copiesToCut(rows)
  const problem = problemOf(proof.error)
  return (
    <Strip label="How the rows stand" gap="5" data-working={working}>
      {working ? (
        <Flex align="center" gap="3">
          <Text>
            <Text as="strong" fontSize="xl" mr="1.5">
              {counts.rows - counts.waiting}
            </Text>
            of {counted(counts.rows, 'row')} worked out
            {stopped && (
              <Text as="span" fontWeight="600" color="thin">
                . Stopped.
              </Text>
            )}
            {!stopped && workers === 0 && (
              <Text as="span" fontWeight="600" color="thin">
                . No worker is there: start one with ./fulgen work.
              </Text>
            )}
          </Text>
          <Button size="sm" variant="outline" onClick={() => changes.stop(!stopped)}>
            {stopped ? 'Go on' : 'Stop'}
          </Button>
        </Flex>
      ) : (
        <Flex align="center" gap="5" wrap="wrap">
          <Told many={counts.as_designed} says="as the design is" shown="all" />
          <Told many={counts.gave_way} says="gave way" shown="gave-way" isLook />
          <Told
            many={counts.cannot_be_made + counts.empty}
            says="cannot be made"
            shown="cannot-be-made"
            blocks
          />
          <Told many={counts.look_again} says="changed since seen" shown="look-again" isLook />
        </Flex>
      )}
      <Flex flex="1" />
      {problem && (
        <Text role="alert" color="knifeDeep" fontWeight="600">
          {problem.message} {problem.todo}
        </Text>
      )}
      <Button
        size="md"
        variant="outline"
        disabled={working}
        loading={proof.isPending}
        onClick={() => proof.mutate()}
      >
        Proof for the customer
      </Button>
      <Button
        size="md"
        bg="knife"
        color="card"
        _hover={{ bg: 'knifeDeep' }}
        fontWeight="650"
        disabled={copies === 0 || working}
        onClick={() => look({ view: 'sheets' })}
      >
        {`Lay ${counted(copies, 'copy', 'copies')} on sheets`}
      </Button>
    </Strip>
  )
}

interface ToldProps {
  many: number
  says: string
  shown: Shown
  isLook?: boolean
  blocks?: boolean
}

/** So many rows stand like that: pressed, those are shown. */
function Told({ many, says, shown, isLook = false, blocks = false }: ToldProps) {
  const { rows } = useRows()
  if (many === 0) return null
  const first = shown === 'all' ? null : (rowsShown(rows, shown, 'list', '')[0]?.number ?? null)
  return (
    <Button
      variant="plain"
      size="sm"
      px="0"
      gap="2"
      fontWeight="450"
      onClick={() => look({ shown, row: first })}
    >
      <FindingMark blocks={blocks} look={isLook} />
      <Text as="strong" fontSize="lg">
        {many}
      </Text>
      {says}
    </Button>
  )
}
