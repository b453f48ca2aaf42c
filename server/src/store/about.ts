import { carriedBy, type Template } from '@hoja/core/template'

/** What has to be known of a template often, kept beside its document so that nobody reads that again for it. */
export interface About {
  id: string
  name: string
  note: string
  tags: string[]
  frame: Template['frame']
  spans: Template['spans']
  fields: Pick<Template['fields'][number], 'key' | 'name' | 'type' | 'note'>[]
  carries: { fonts: number; media: number; sounds: number }
  /** What it carries: path in a package, and SHA-256. */
  files: [path: string, sha256: string][]
}

export const aboutOf = (template: Template): About => ({
  id: template.id,
  name: template.name,
  note: template.note,
  tags: template.tags,
  frame: template.frame,
  spans: template.spans,
  fields: template.fields.map(({ key, name, type, note }) => ({ key, name, type, note })),
  carries: { fonts: template.fonts.length, media: template.media.length, sounds: template.sounds.length },
  files: carriedBy(template).map(({ file, sha256 }) => [file, sha256]),
})
