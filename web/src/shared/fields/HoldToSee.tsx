import { Button } from '@chakra-ui/react'
import { glanceAt, useGlance } from '../view/glance'

interface Props {
  kind: 'before' | 'as-made'
  children: string
}

/** While it is held, the work is seen as it was. */
export function HoldToSee({ kind, children }: Props) {
  const holding = useGlance((s) => s.glance?.kind === kind)
  const hold = () => glanceAt({ kind })
  const letGo = () => glanceAt(null)
  return (
    <Button
      size="sm"
      variant="outline"
      alignSelf="start"
      aria-pressed={holding}
      onPointerDown={hold}
      onPointerUp={letGo}
      onPointerLeave={letGo}
      onKeyDown={(event) => event.key === ' ' && !event.repeat && hold()}
      onKeyUp={letGo}
      onBlur={letGo}
    >
      {children}
    </Button>
  )
}
