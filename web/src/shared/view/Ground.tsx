// The ground that work and sheets lie on: moved by a finger or button, zoomed by wheel and pinch, with rulers.

import { Box, chakra } from '@chakra-ui/react'
import { type PointerEvent, type ReactNode, type RefObject, useEffect, useLayoutEffect, useRef } from 'react'
import { useUnit } from '../evaluation/store'
import { Rulers } from './Rulers'
import { type Spot, useView } from './view'

const Surface = chakra('svg')

interface Props {
  /** What lies there, to those who cannot see it; and what it shows at this moment. */
  label: string
  title: string
  testId: string
  /** Whether what is shown is of an earlier moment. */
  stale: boolean
  /** Where both rulers begin, in millimetres. */
  corner: Spot
  children: ReactNode
}

/** Quiet ground in the window, with rulers; what lies on it is drawn in the window's pixels. */
export function Ground({ label, title, testId, stale, corner, children }: Props) {
  const ground = useRef<HTMLDivElement>(null)
  const unit = useUnit()
  const { setWindow, zoomAt, pan } = useView.getState()
  useGroundSize(ground, setWindow)
  useWheelZoom(ground, zoomAt)
  const drag = usePanAndPinch(pan, zoomAt)
  return (
    <Box
      ref={ground}
      position="absolute"
      inset="0"
      bg="paper"
      overflow="hidden"
      cursor="grab"
      _active={{ cursor: 'grabbing' }}
      touchAction="none"
      role="application"
      aria-label={`${label} Arrow keys move the view, plus and minus zoom.`}
      tabIndex={0}
      {...drag}
    >
      <Surface width="100%" height="100%" display="block" data-testid={testId} data-stale={stale}>
        <title>{title}</title>
        {children}
      </Surface>
      <Rulers unit={unit} left={corner.x} top={corner.y} />
    </Box>
  )
}

/** Keeps the view told how large the ground is. */
function useGroundSize(
  ground: RefObject<HTMLDivElement | null>,
  setWindow: (width: number, height: number) => void,
) {
  useLayoutEffect(() => {
    const element = ground.current
    if (!element) return
    const measure = () => setWindow(element.clientWidth, element.clientHeight)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [ground, setWindow])
}

type ZoomAt = (factor: number, px: number, py: number) => void

/** The wheel zooms to the pointer. */
function useWheelZoom(ground: RefObject<HTMLDivElement | null>, zoomAt: ZoomAt) {
  useEffect(() => {
    const element = ground.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const { left, top } = element.getBoundingClientRect()
      zoomAt(
        Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)),
        event.clientX - left,
        event.clientY - top,
      )
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [ground, zoomAt])
}

/** One finger or button moves the view; two fingers pinch. */
function usePanAndPinch(
  pan: (dx: number, dy: number) => void,
  zoomAt: (f: number, x: number, y: number) => void,
) {
  const touches = useRef(new Map<number, { x: number; y: number }>())
  const end = (event: PointerEvent) => touches.current.delete(event.pointerId)
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button > 1) return
      event.currentTarget.setPointerCapture(event.pointerId)
      touches.current.set(event.pointerId, { x: event.clientX, y: event.clientY })
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const before = touches.current.get(event.pointerId)
      if (!before) return
      const now = { x: event.clientX, y: event.clientY }
      touches.current.set(event.pointerId, now)
      const other = [...touches.current].find(([id]) => id !== event.pointerId)?.[1]
      if (other) {
        const { left, top } = event.currentTarget.getBoundingClientRect()
        const grown =
          Math.hypot(now.x - other.x, now.y - other.y) / Math.hypot(before.x - other.x, before.y - other.y)
        if (Number.isFinite(grown) && grown > 0) zoomAt(grown, other.x - left, other.y - top)
      } else pan(now.x - before.x, now.y - before.y)
    },
    onPointerUp: end,
    onPointerCancel: end,
  }
}
