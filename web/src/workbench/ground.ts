// The ground that work and sheets lie on: moved by a finger or button, zoomed by wheel and pinch.

import { type PointerEvent, type RefObject, useEffect, useLayoutEffect, useRef } from 'react'

/** Keeps the view told how large the ground is. */
export function useGroundSize(
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
export function useWheelZoom(ground: RefObject<HTMLDivElement | null>, zoomAt: ZoomAt) {
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
export function usePanAndPinch(
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
