import { Button, CloseButton, Dialog, Flex, Input, Portal, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, api } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { problemOf, useOrderId } from './useOrder'

const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })

/** The order as it was before each change: named, to be kept for good, or brought back. */
export function Versions({ onClose }: { onClose: () => void }) {
  const id = useOrderId()
  const queries = useQueryClient()
  const key = ['order-versions', id]
  const path = { order_id: id }
  const versions = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET('/api/orders/{order_id}/versions', { params: { path } })),
    staleTime: 0,
  })
  const naming = useMutation({
    mutationFn: ({ version, name }: { version: number; name: string }) =>
      answer(
        api.PUT('/api/orders/{order_id}/versions/{version_id}', {
          params: { path: { ...path, version_id: version } },
          body: { name },
        }),
      ),
    onSuccess: (list) => queries.setQueryData(key, list),
  })
  const restoring = useMutation({
    mutationFn: (version: number) =>
      answer(
        api.POST('/api/orders/{order_id}/versions/{version_id}/restore', {
          params: { path: { ...path, version_id: version } },
        }),
      ),
    onSuccess: () => {
      for (const name of ['order', 'order-rows', 'order-sheets'])
        void queries.invalidateQueries({ queryKey: [name, id] })
      onClose()
    },
  })
  const problem = problemOf(versions.error ?? naming.error ?? restoring.error)
  return (
    <Dialog.Root open onOpenChange={(e) => !e.open && onClose()} size="lg" scrollBehavior="inside">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>Earlier versions of this order</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">
              {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
              {versions.data?.length === 0 && <Text color="softInk">Nothing has been changed yet.</Text>}
              <Flex as="ul" direction="column" listStyleType="none" aria-label="Versions">
                {versions.data?.map((version) => (
                  <Flex
                    as="li"
                    key={version.id}
                    gap="4"
                    py="2.5"
                    align="center"
                    borderBottomWidth="1px"
                    borderColor="rule"
                  >
                    <Flex direction="column" flex="1" minWidth="0">
                      <Text fontWeight="600">{WHEN.format(new Date(version.made))}</Text>
                      <Text fontSize="sm" color="softInk" truncate>
                        {`Before: ${version.what.toLowerCase()}. ${counted(version.rows, 'row')}`}
                        {version.words.length > 0 && `: ${version.words.join(', ')}…`}
                      </Text>
                    </Flex>
                    <Input
                      aria-label={`Name of the version of ${WHEN.format(new Date(version.made))}`}
                      placeholder="Name it to keep it"
                      size="sm"
                      width="170px"
                      maxLength={80}
                      defaultValue={version.name}
                      onBlur={(e) =>
                        e.target.value !== version.name &&
                        naming.mutate({ version: version.id, name: e.target.value })
                      }
                    />
                    <Button
                      size="sm"
                      variant="outline"
                      loading={restoring.isPending && restoring.variables === version.id}
                      onClick={() => restoring.mutate(version.id)}
                    >
                      Bring it back
                    </Button>
                  </Flex>
                ))}
              </Flex>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
