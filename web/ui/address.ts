import { useCallback } from 'react'
import { useNavigate, useSearchParams } from 'react-router'

type Parameters = Readonly<Record<string, string>>
type SetParameters = (
  to: Parameters | ((now: URLSearchParams) => URLSearchParams),
  options?: { readonly replace?: boolean },
) => void

/**
 * The parameters of the address, and a change of them, which stays the same function. Unlike the router's own, a change
 * rests on what the address holds by then, not on what was drawn last: drawing comes when there is time for it, and of two
 * quick changes the first would be lost.
 */
export function useAddress(): [params: URLSearchParams, set: SetParameters] {
  const [params] = useSearchParams()
  const navigate = useNavigate()
  const set = useCallback<SetParameters>(
    (to, options = {}) => {
      const next = typeof to === 'function' ? to(new URLSearchParams(window.location.search)) : new URLSearchParams(to)
      void navigate(`?${next.toString()}`, options)
    },
    [navigate],
  )
  return [params, set]
}
