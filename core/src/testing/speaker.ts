import { readdirSync, readFileSync } from 'node:fs'
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { Pixels } from '../paint/index.ts'
import { type Assets, Scene } from '../scene/index.ts'
import { type Part, readTemplate, shapeOf, type Template } from '../template/index.ts'
import { Font } from '../text/index.ts'

const demo = new URL('../../../demo/templates/', import.meta.url)
const folder = new URL('speaker/', demo)

/** The names of the demo's templates. */
export const demoNames = readdirSync(demo)

export const fontFiles = readdirSync(new URL('fonts/', folder)).map((file) => ({
  file,
  bytes: new Uint8Array(readFileSync(new URL(`fonts/${file}`, folder))),
}))
const read = (from: URL): Template => readTemplate(JSON.parse(readFileSync(new URL('template.json', from), 'utf8')))

/** The demo template as it ships, for tests: in the first of its shapes. */
export const speaker = shapeOf(read(folder))

/** A demo template with its own fonts and pictures. */
export async function demoScene(name: string): Promise<Scene> {
  const from = new URL(`${name}/`, demo)
  const template = read(from)
  return new Scene(template, await load(template, from))
}

async function load(template: Template, folder: URL): Promise<Assets> {
  const pictures = new Map<string, Pixels>()
  for (const media of template.media) {
    const image = await loadImage(readFileSync(new URL(media.file, folder)))
    const canvas = createCanvas(image.width, image.height)
    const context = canvas.getContext('2d')
    context.drawImage(image, 0, 0)
    pictures.set(media.name, {
      id: media.sha256,
      width: image.width,
      height: image.height,
      rgba: context.getImageData(0, 0, image.width, image.height).data,
    })
  }
  const fonts = new Map(
    template.fonts.map((font) => [
      font.id,
      new Font(new Uint8Array(readFileSync(new URL(font.file, folder))), font.file),
    ]),
  )
  return { fonts, picture: (name) => pictures.get(name), movie: () => undefined }
}

export const assets = await load(speaker, folder)

/** A template of the given parts with the demo's fonts and pictures. */
export function templateOf(parts: Part[], more: Partial<Template> = {}): Template {
  return { ...speaker, fields: [], proofs: [], parts, ...more }
}

export function sceneOf(parts: Part[], more: Partial<Template> = {}): Scene {
  return new Scene(templateOf(parts, more), assets)
}
