import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { History } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { Bar } from '../../shared/fields/Bar'
import { Segments } from '../../shared/fields/Segments'
import { look, useOrderView, type View } from './store'
import { useOrder, useSaveOrder } from './useOrder'
import { Versions } from './Versions'

const VIEWS = [
  { value: 'names', label: 'Names' },
  { value: 'sheets', label: 'Sheets' },
  { value: 'picks', label: 'Pick list' },
] as const

/** What the order is called, of which design it is, and what of it is looked at. */
export function OrderBar() {
  const { name, design, design_name } = useOrder()
  const view = useOrderView((s) => s.view)
  const [versions, setVersions] = useState(false)
  const { save, problem, busy } = useSaveOrder()
  useEffect(() => {
    document.title = `${name} – Fulgen`
  }, [name])
  return (
    <Bar>
      <Input
        key={name}
        aria-label="Name of the order"
        defaultValue={name}
        onBlur={(e) => e.target.value.trim() && e.target.value !== name && save({ name: e.target.value })}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        maxLength={120}
        size="sm"
        width="auto"
        minWidth="120px"
        maxWidth="320px"
        ml="3"
        css={{ fieldSizing: 'content' }}
        fontWeight="600"
        fontSize="md"
        borderColor="transparent"
        _hover={{ borderColor: 'rule' }}
      />
      <Text color="softInk" fontSize="sm" truncate minWidth="0">
        {problem ? (
          <Text as="span" role="alert" color="knifeDeep" fontWeight="600">
            {problem.message} {problem.todo}
          </Text>
        ) : busy ? (
          'Saving…'
        ) : (
          <>
            names on{' '}
            <Text asChild color="ink" textDecoration="underline">
              <Link to={`/design/${design}`}>{design_name}</Link>
            </Text>
          </>
        )}
      </Text>
      <Flex flex="1" />
      <Segments<View>
        label="What is looked at"
        value={view}
        options={VIEWS}
        onChange={(view) => look({ view })}
      />
      <Button size="sm" variant="outline" onClick={() => setVersions(true)}>
        <History size={16} /> Versions
      </Button>
      <Button asChild size="sm" variant="outline">
        <Link to="/orders">All orders</Link>
      </Button>
      {versions && <Versions onClose={() => setVersions(false)} />}
    </Bar>
  )
}
