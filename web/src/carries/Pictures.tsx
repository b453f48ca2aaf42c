import { address } from '@hoja/core/api'
import { pictureUses, type Template } from '@hoja/core/template'
import { rateText, secondsOf } from '@hoja/core/time'
import { useDraft } from '../session/draft.ts'
import { counted } from '../ui/counted.ts'
import { Section, Uses } from './Section.tsx'

/** The pictures and movies. */
export function Pictures({ template }: { template: Template }) {
  const { change } = useDraft.getState()
  // What no part shows may still be what a row of data asks for by its name.
  const offering = template.fields.filter((field) => field.type === 'picture').map((field) => field.name)
  return (
    <Section title="Pictures and movies" note="By the names that data uses.">
      {template.media.length === 0 && (
        <p className="py-2 text-soft">None. Drop PNG, JPEG, WebP or SVG files here, or a short movie.</p>
      )}
      <ul className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-3">
        {template.media.map((media) => (
          <li key={media.id} className="border border-rule bg-paper">
            <div className="flex h-28 items-center justify-center bg-grey p-2">
              <img
                src={address.asset({ sha256: media.sha256 })}
                alt={media.name}
                className="max-h-full max-w-full object-contain"
              />
            </div>
            <div className="px-2.5 py-1.5">
              <p className="truncate font-medium">{media.name}</p>
              <p className="text-xs text-soft">
                {media.width} x {media.height}
                {media.movie &&
                  ` · ${counted(media.movie.frames, 'frame')} at ${rateText(media.movie.rate)} fps, ${secondsOf(media.movie.frames, media.movie.rate).toFixed(1)} s`}
              </p>
              <div className="pt-0.5 text-xs">
                <Uses
                  name={media.name}
                  {...(offering.length > 0 ? { otherwise: `offered by the field ${offering.join(', ')}` } : {})}
                  uses={pictureUses(template, media.name)}
                  onRemove={() =>
                    change(
                      { kind: 'media', media: template.media.filter((one) => one.id !== media.id) },
                      `removing ${media.name}`,
                    )
                  }
                />
              </div>
            </div>
          </li>
        ))}
      </ul>
    </Section>
  )
}
