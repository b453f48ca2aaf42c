import { address } from '@hoja/core/api'
import { toast } from 'sonner'
import { saveEverything } from './unsaved.ts'

/** ms between two looks at whether the server still has this page's version. */
const every = 60_000

let own: string | undefined
let isTold = false

/** Hears with which interface a server answers: when it is another than at first, this page is an older one. */
export function noteBuild(build: string | null): void {
  if (build === null) return
  own ??= build
  if (build !== own) tellNewer()
}

/** Offers to reload, once: what is open stays as it is until somebody wants to. */
export function tellNewer(): void {
  if (isTold) return
  isTold = true
  toast('Hoja was brought up to date meanwhile.', {
    description: 'Reload to go on with the newer one; what is unsaved is saved first.',
    duration: Number.POSITIVE_INFINITY,
    cancel: { label: 'Later', onClick: () => {} },
    action: {
      label: 'Reload',
      onClick: (event) => {
        event.preventDefault()
        void reload()
      },
    },
  })
}

async function reload(): Promise<void> {
  if (await saveEverything()) location.reload()
  else toast.error('Something here could not be saved yet, so the page was not reloaded; look after it first.')
}

/** Looks now and then, and whenever somebody comes back to the page. */
export function watchBuild(): void {
  const look = () =>
    void fetch(address.build()).then(
      (response) => noteBuild(response.headers.get('X-Hoja-Build')),
      // A server that is just being replaced; the next look will tell.
      () => {},
    )
  setInterval(look, every)
  window.addEventListener('focus', look)
  // A piece of this page that the newer one no longer has.
  window.addEventListener('vite:preloadError', tellNewer)
}
