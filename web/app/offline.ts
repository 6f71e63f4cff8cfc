import { registerSW } from 'virtual:pwa-register'
import { toast } from 'sonner'

/**
 * Has the browser keep all of the app, so that it opens without a network. A new version waits and is announced: it is
 * taken when the user says so.
 */
export function keepOffline(): void {
  if (!('serviceWorker' in navigator)) return
  const take = registerSW({
    onNeedRefresh() {
      toast('A new version of the app is there.', {
        duration: Infinity,
        description: 'Your data stays as it is.',
        action: {
          label: 'Take it',
          onClick: () => {
            void take(true)
          },
        },
      })
    },
  })
}
