import { Scene } from '@hoja/core/scene'
import { carriedBy, partedLanguages, type Template } from '@hoja/core/template'
import { hyphenatedLanguages } from '@hoja/core/text'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { loadAssets } from './assets.ts'

/** The pipeline for a template; undefined while its fonts and pictures are on their way. */
export function useScene(template: Template | undefined): { scene: Scene | undefined; error: Error | null } {
  const files = template
    ? carriedBy(template)
        .map((entry) => entry.sha256)
        .join()
    : ''
  const assets = useQuery({
    queryKey: ['carried', template?.id, files, template && partedLanguages(template, hyphenatedLanguages).join()],
    queryFn: () => loadAssets(template!),
    enabled: !!template,
    staleTime: Number.POSITIVE_INFINITY,
    // While a file or a language's word ends are on their way the screen stays, with what it has.
    placeholderData: (before, query) => (query?.queryKey[1] === template?.id ? before : undefined),
  })
  const scene = useMemo(
    () => (template && assets.data ? new Scene(template, assets.data) : undefined),
    [template, assets.data],
  )
  return { scene, error: assets.error }
}
