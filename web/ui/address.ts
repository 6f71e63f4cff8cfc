import { useCallback } from 'react'
import { useNavigate, useSearchParams } from 'react-router'

type Options = { readonly replace?: boolean }

type Address = {
  readonly params: URLSearchParams
  /** Changes some of the parameters, null takes one away; the others stay. Takes the place of the address before. */
  readonly change: (some: Readonly<Record<string, string | null>>, options?: Options) => void
  /** Sets all of the parameters: those that are not given go. */
  readonly setAll: (all: Readonly<Record<string, string>>, options?: Options) => void
}

/**
 * The parameters of the address; its functions stay the same. Unlike with the router's own, a change rests on what the
 * address holds by then, not on what was drawn last: drawing comes when there is time for it, and of two quick changes the
 * first would be lost.
 */
export function useAddress(): Address {
  const [params] = useSearchParams()
  const navigate = useNavigate()
  const setAll = useCallback<Address['setAll']>(
    (all, options = {}) => {
      void navigate(`?${new URLSearchParams(all).toString()}`, options)
    },
    [navigate],
  )
  const change = useCallback<Address['change']>(
    (some, options = { replace: true }) => {
      const now = Object.fromEntries(new URLSearchParams(window.location.search))
      const next = Object.entries({ ...now, ...some }).filter((p): p is [string, string] => p[1] !== null)
      setAll(Object.fromEntries(next), options)
    },
    [setAll],
  )
  return { params, change, setAll }
}
