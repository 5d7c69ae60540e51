import { type PointerEvent, useEffect, useState } from 'react'
import { useChosenLetters, useSelection } from '../../shared/design/selection'
import { partNow } from '../../shared/design/store'
import { usePartView } from '../../shared/evaluation/store'
import { projection, type Spot, useProjection, useView } from '../../shared/view/view'
import { DraggedLetter } from './DraggedLetter'
import { EndGrip, heldAlong, type StrokeEnd } from './EndGrip'
import { type LetterNodes, useNodes } from './shapes'
import { asFarAs, lengthenBy, matchEnd, useMatching } from './strokeEnds'

/** Letters whose ends can be pointed at, at most: each is asked for. */
const MOST_LETTERS = 24

/** The stroke ends of the chosen letter, to be dragged; while one is to be as long as another, those of all. */
export function EndsOverlay() {
  const part = useSelection((s) => s.selection.part)
  const chosen = useChosenLetters()
  const isLetter = useSelection((s) => s.selection.kind === 'letters')
  const matching = useMatching((s) => s.matching)
  const letters = usePartView()?.letters ?? []
  const only = isLetter && chosen.length === 1 ? chosen[0] : undefined

  useEffect(() => {
    if (matching && (matching.part !== part || matching.letter !== only)) matchEnd(null)
  }, [matching, part, only])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !useMatching.getState().matching) return
      matchEnd(null)
      event.stopImmediatePropagation()
    }
    window.addEventListener('keydown', onKey, true)
    return () => window.removeEventListener('keydown', onKey, true)
  }, [])

  if (only === undefined) return null
  if (!matching) return <EndsOf key={only} part={part} letter={only} />
  return letters
    .slice(0, MOST_LETTERS)
    .map(({ id }) => <EndsToMatch key={id} part={part} letter={id} own={only} ownEnd={matching.end} />)
}

interface Drag {
  end: number
  nodes: LetterNodes
  from: Spot
  to: Spot
}

function EndsOf({ part, letter }: { part: string; letter: number }) {
  const { nodes, fresh } = useNodes(part, letter)
  const { px } = useProjection()
  const [drag, setDrag] = useState<Drag | null>(null)
  const [letGo, setLetGo] = useState(false)
  useEffect(() => {
    if (letGo && fresh) {
      setDrag(null)
      setLetGo(false)
    }
  }, [letGo, fresh])
  const shown = drag?.nodes ?? nodes
  if (!shown || !nodes) return null

  function begin(event: PointerEvent<SVGElement>, number: number, end: StrokeEnd) {
    if (event.button !== 0 || !nodes) return
    event.stopPropagation()
    const ground = event.currentTarget.closest('[role=application]')?.getBoundingClientRect()
    if (!ground) return
    const spot = (e: { clientX: number; clientY: number }) =>
      projection(useView.getState()).mm({ x: e.clientX - ground.left, y: e.clientY - ground.top })
    const from = spot(event)
    let now: Drag = { end: number, nodes, from, to: from }
    setLetGo(false)
    // The work stays where it is under the hand.
    useView.setState({ fitted: false })
    const move = (e: globalThis.PointerEvent) => {
      now = { ...now, to: heldAlong({ x: end.dx, y: end.dy }, from, spot(e), false) }
      setDrag(now)
    }
    const up = () => {
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', up)
      window.removeEventListener('pointercancel', up)
      const by = { x: now.to.x - from.x, y: now.to.y - from.y }
      if (by.x === 0 && by.y === 0) return setDrag(null)
      lengthenBy(partNow(), letter, now.nodes, end, by)
      setLetGo(true)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    window.addEventListener('pointercancel', up)
  }

  const by = drag ? { x: drag.to.x - drag.from.x, y: drag.to.y - drag.from.y } : STILL
  const dragged = drag && shown.ends[drag.end]
  return (
    <g data-stroke-ends>
      {drag && dragged && <DraggedLetter drag={{ ...drag, kind: 'move', names: dragged.nodes }} at={px} />}
      {shown.ends.map((end, number) => (
        <EndGrip
          // biome-ignore lint/suspicious/noArrayIndexKey: ends are told by their numbers
          key={number}
          end={end}
          number={number}
          by={drag?.end === number ? by : STILL}
          chosen={drag?.end === number}
          named={shown.ends.length > 1}
          onPointerDown={(event) => begin(event, number, end)}
        />
      ))}
    </g>
  )
}

const STILL: Spot = { x: 0, y: 0 }

interface ToMatch {
  part: string
  letter: number
  /** The letter whose end is to be as long, and which of its ends. */
  own: number
  ownEnd: number
}

/** Ends to point at: the chosen one comes as far out as the one that is. */
function EndsToMatch({ part, letter, own, ownEnd }: ToMatch) {
  const { nodes } = useNodes(part, letter)
  const { nodes: mine } = useNodes(part, own)
  const end = mine?.ends[ownEnd]
  if (!nodes || !mine || !end) return null
  return nodes.ends.map((other, number) => {
    const isOwn = letter === own && number === ownEnd
    return (
      <EndGrip
        // biome-ignore lint/suspicious/noArrayIndexKey: ends are told by their numbers
        key={number}
        end={other}
        number={number}
        by={STILL}
        chosen={isOwn}
        named={false}
        title={isOwn ? 'This end' : 'As far out as this end'}
        onPointerDown={(event) => {
          event.stopPropagation()
          if (!isOwn) lengthenBy(partNow(), own, mine, end, asFarAs(end, other))
          matchEnd(null)
        }}
      />
    )
  })
}
