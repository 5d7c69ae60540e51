import { Button, Flex, Input, Text } from '@chakra-ui/react'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { Choice } from '../../shared/fields/Choice'
import { CountField } from '../../shared/fields/CountField'
import { Row } from '../../shared/fields/Panel'
import { ProblemNote } from '../../shared/fields/ProblemNote'
import { Segments } from '../../shared/fields/Segments'

export type Reached = Schemas['Connection']

const BY = [
  { value: 'bench', label: 'Bench' },
  { value: 'network', label: 'Network' },
  { value: 'serial', label: 'Serial line' },
] as const

const BAUD = [1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200] as const

const FLOW = [
  { value: 'wires', label: 'RTS and CTS' },
  { value: 'signs', label: 'XON and XOFF' },
  { value: 'none', label: 'nothing' },
] as const

const ANSWERS: Record<Schemas['TriedOut']['answers'], string> = {
  place: 'It answers, and says where it is. Jobs are followed stroke by stroke.',
  status: 'It answers, but does not say where it is. Jobs are followed stroke by stroke.',
  nothing: 'It takes the line, but says nothing. Jobs are followed by the time that they take.',
}

interface Props {
  reached: Reached
  onKeep: (reached: Reached) => void
}

/** How sheets get to a machine that takes HP-GL: by the simulated cutter, the network, or a serial line. What was
 * typed stays, also where it is refused, to be mended. */
export function ReachedFields({ reached: kept, onKeep }: Props) {
  const [reached, setReached] = useState(kept)
  const { by } = reached
  const change = (changes: Partial<Reached>) => {
    const changed = { ...reached, ...changes }
    setReached(changed)
    onKeep(changed)
  }
  const isSaid = by === 'network' ? reached.host !== '' : reached.device !== ''
  return (
    <Flex direction="column" gap="2.5">
      <Segments label="Cut by" value={by} options={BY} onChange={(to) => change({ by: to })} fill />
      {by === 'bench' && (
        <Text fontSize="sm" color="softInk">
          Sheets go to the simulated cutter. Say here how your own machine is reached.
        </Text>
      )}
      {by === 'network' && (
        <>
          <Row label="Address">
            <Words
              key={reached.host}
              label="Address"
              value={reached.host}
              placeholder="192.168.1.40"
              onChange={(host) => change({ host })}
            />
          </Row>
          <Row label="Port">
            <CountField
              label="Port"
              value={reached.port}
              min={1}
              max={65_535}
              onChange={(port) => change({ port })}
            />
          </Row>
        </>
      )}
      {by === 'serial' && <SerialFields reached={reached} onChange={change} />}
      {by !== 'bench' && isSaid && <TryIt reached={reached} />}
    </Flex>
  )
}

function SerialFields({ reached, onChange }: { reached: Reached; onChange: (to: Partial<Reached>) => void }) {
  const found =
    useQuery({ queryKey: ['serial'], queryFn: () => answer(api.GET('/api/machines/serial')) }).data ?? []
  return (
    <>
      <Row label="Line">
        <Words
          key={reached.device}
          label="Line"
          value={reached.device}
          placeholder="/dev/ttyUSB0"
          onChange={(device) => onChange({ device })}
        />
      </Row>
      {found.length > 0 && (
        <Flex gap="1.5" wrap="wrap">
          {found.map(({ device, about }) => (
            <Button
              key={device}
              size="xs"
              variant="outline"
              title={about}
              onClick={() => onChange({ device })}
            >
              {device}
            </Button>
          ))}
        </Flex>
      )}
      <Row label="Speed">
        <Choice
          label="Speed of the line"
          value={String(reached.baud)}
          options={BAUD.map((baud) => ({ value: String(baud), label: `${baud} baud` }))}
          onChange={(baud) => onChange({ baud: Number(baud) as Reached['baud'] })}
        />
      </Row>
      <Row label="Held off by">
        <Choice
          label="Held off by"
          value={reached.flow}
          options={FLOW}
          onChange={(flow) => onChange({ flow })}
        />
      </Row>
    </>
  )
}

/** A word that counts once it is whole: on Enter, or when the field is left. */
function Words({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string
  value: string
  placeholder: string
  onChange: (to: string) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const keep = () => {
    if (typed !== null && typed.trim() !== value) onChange(typed.trim())
  }
  return (
    <Input
      aria-label={label}
      size="sm"
      bg="card"
      borderColor="edge"
      placeholder={placeholder}
      maxLength={120}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => e.key === 'Enter' && keep()}
    />
  )
}

/** Asks the machine where it is, without moving it. */
function TryIt({ reached }: { reached: Reached }) {
  const trying = useMutation({
    mutationFn: () => answer(api.POST('/api/machines/try', { body: { reached } })),
  })
  const problem = trying.error ? asProblem(trying.error) : null
  return (
    <>
      <Button
        size="sm"
        variant="outline"
        alignSelf="start"
        loading={trying.isPending}
        onClick={() => trying.mutate()}
      >
        Try the line
      </Button>
      {trying.data && (
        <Text role="status" fontSize="sm" fontWeight="550">
          {ANSWERS[trying.data.answers]}
        </Text>
      )}
      {problem && <ProblemNote what={problem.message} todo={problem.todo} />}
    </>
  )
}
