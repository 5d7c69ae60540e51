import { useEffect, useState } from 'react'

/** A value once it has not changed for a while: what is costly is not asked for at every key. */
export function useDebounced<T>(value: T, quietMs: number): T {
  const [settled, settle] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => settle(() => value), quietMs)
    return () => clearTimeout(timer)
  }, [value, quietMs])
  return settled
}
