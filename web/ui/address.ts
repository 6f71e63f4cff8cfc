import { createContext, useCallback, useContext } from 'react'
import { useLocation, useNavigate, useSearchParams } from 'react-router'

type Options = {
  readonly replace?: boolean
  /** What comes some time after what was done gives way where another screen is already being opened. */
  readonly late?: boolean
}

/** Whether another screen is being opened at this moment: drawing does not tell in time. */
export const OpeningContext = createContext<() => boolean>(() => false)

type Address = {
  readonly params: URLSearchParams
  /** Changes some of the parameters, null takes one away; the others stay. Takes the place of the address before. */
  readonly change: (some: Readonly<Record<string, string | null>>, options?: Options) => void
  /** Sets all of the parameters: those that are not given go. */
  readonly setAll: (all: Readonly<Record<string, string>>, options?: Options) => void
}

/**
 * The parameters of the address; its functions stay the same on a screen. Unlike with the router's own, a change rests on
 * what the address holds by then, not on what was drawn last: drawing comes when there is time for it, and of two quick
 * changes the first would be lost. What comes when the address is another screen's already, as that is not drawn yet, is
 * not for it and is dropped.
 */
export function useAddress(): Address {
  const [params] = useSearchParams()
  const { pathname } = useLocation()
  const navigate = useNavigate()
  const isOpening = useContext(OpeningContext)
  const setAll = useCallback<Address['setAll']>(
    (all, { late = false, ...options } = {}) => {
      if (late && isOpening()) return
      if (new URL(pathname, window.location.href).pathname !== window.location.pathname) return
      void navigate(`?${new URLSearchParams(all).toString()}`, options)
    },
    [pathname, navigate, isOpening],
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
