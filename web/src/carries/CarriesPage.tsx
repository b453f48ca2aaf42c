import type { Template } from '@hoja/core/template'
import { useEffect, useRef, useState } from 'react'
import { useParams } from 'react-router'
import { useShallow } from 'zustand/react/shallow'
import { bringFiles } from '../session/bringFiles.ts'
import { carriedKinds } from '../session/carry.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { AddFont } from '../session/fonts/AddFont.tsx'
import { Button, classes } from '../ui/controls.tsx'
import { FilePicker, useFileDrop } from '../ui/files.tsx'
import { Header } from '../ui/Header.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { Fonts } from './Fonts.tsx'
import { Pictures } from './Pictures.tsx'
import { Sounds } from './Sounds.tsx'

/** A template's fonts, pictures, movies and sounds in one place: what each is, what uses it, what its licence allows. */
export default function CarriesPage() {
  const { id } = useParams()
  const { template, trouble, open } = useDraft(
    useShallow(({ template, trouble, open }) => ({ template, trouble, open })),
  )
  useEffect(() => void open(id!), [id, open])
  if (trouble && template?.id !== id) return <Trouble error={trouble} what="template" onAgain={() => void open(id!)} />
  if (!template || template.id !== id) return <p className="p-6 text-soft">Opening …</p>
  return <Page template={template} />
}

function Page({ template }: { template: Template }) {
  const [choosing, setChoosing] = useState(false)
  const [busy, setBusy] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const bring = async (files: readonly File[]) => {
    setBusy(true)
    await bringFiles(files)
    setBusy(false)
  }
  const drop = useFileDrop((files) => void bring(files))
  return (
    <div className="flex h-full flex-col">
      <Header template={template} here="What it carries">
        <span role="status" className="text-soft">
          {busy && 'Reading …'}
        </span>
        <Button onClick={() => setChoosing(true)}>Add a font</Button>
        <Button onClick={() => picker.current?.click()}>Add files</Button>
        <DraftBar />
      </Header>
      <FilePicker
        ref={picker}
        label="Add fonts, pictures and sounds"
        accept={carriedKinds}
        multiple
        onFiles={(files) => void bring(files)}
      />
      <main
        className={classes('min-h-0 flex-1 overflow-auto px-6 py-4', drop.over && 'bg-leaf-pale')}
        {...drop.handlers}
      >
        <Fonts template={template} />
        <Pictures template={template} />
        <Sounds template={template} />
      </main>
      {choosing && <AddFont onClose={() => setChoosing(false)} />}
    </div>
  )
}
