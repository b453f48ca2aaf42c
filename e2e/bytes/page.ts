import { paint } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import { carriedBy, type Template, type Values } from '@hoja/core/template'
import { loadAssets } from '../../web/src/preview/assets.ts'
import { resources, surfaceOf } from '../../web/src/preview/rasterBackend.ts'

declare global {
  interface Window {
    paintedHashes: typeof paintedHashes
  }
}

const known = new Map<string, ReturnType<typeof loadAssets>>()

/** What a template carries, read once for all templates that carry the same. */
function assetsOf(template: Template): ReturnType<typeof loadAssets> {
  const key = JSON.stringify(carriedBy(template))
  const assets = known.get(key) ?? loadAssets(template)
  known.set(key, assets)
  return assets
}

/** SHA-256 of whole frames as the interface paints them. */
async function paintedHashes(template: Template, rows: Values[], frames: number[]): Promise<string[]> {
  const scene = new Scene(template, await assetsOf(template))
  const { width, height } = template.frame
  const hashes: string[] = []
  for (const values of rows)
    for (const frame of frames) {
      const canvas = new OffscreenCanvas(width, height)
      const surface = surfaceOf(canvas)
      paint(scene.frame(scene.layout(values), scene.timing(scene.layout({})), frame), surface, resources)
      const digest = await crypto.subtle.digest(
        'SHA-256',
        surface.context.getImageData(0, 0, width, height).data as Uint8ClampedArray<ArrayBuffer>,
      )
      hashes.push(Array.from(new Uint8Array(digest), (b) => b.toString(16).padStart(2, '0')).join(''))
    }
  return hashes
}

window.paintedHashes = paintedHashes
