import type { ImageTell, JobView } from '@taraf/contract'
import { wantedVersion, worthOf } from '@taraf/core'
import { View } from '@tamagui/core'
import { useState } from 'react'
import { Act } from '../../parts/Act'
import { Choices } from '../../parts/Choices'
import { Field } from '../../parts/Field'
import { Notice, ProblemNotice } from '../../parts/Notice'
import { pickFile } from '../../parts/files'
import { Signals } from '../../parts/Signals'
import { Column, Reading, Row, Words } from '../../parts/type'
import { problemOf } from '../../store/api'
import { useImagesQuery, useKeepImageMutation, useWriteImageMutation } from '../../store/boards'
import { useMeQuery } from '../../store/people'
import { useLive } from '../../store/store'

/** What the sheet approves, the images that the shop keeps for this target, and the writing of one with the reason for it. */
export const Firmware = ({ job }: { job: JobView }) => {
  const { data: images = [], error } = useImagesQuery()
  const { data: me } = useMeQuery()
  const link = useLive((live) => live.link)
  const image = useLive((live) => live.image)
  const [chosen, choose] = useState<string | undefined>(undefined)
  const [reason, setReason] = useState('')
  const [keep, keeping] = useKeepImageMutation()
  const [write, writing] = useWriteImageMutation()
  const { board } = job.sheet
  const wanted = board?.firmware
  if (board === undefined || wanted === undefined) return null
  const fitting = images.filter((i) => i.target === board.target)
  const suggested = fitting.find((i) => i.version === wantedVersion(wanted))?.sha256
  const picked = fitting.find((i) => i.sha256 === (chosen ?? suggested))
  const runs = image !== null && image.phase !== 'done' && image.phase !== 'failed'
  const holds = job.bench?.heldBy?.id === me?.id && link?.phase === 'up'
  const add = async () => {
    const file = await pickFile('.hex,.ihex,.ihx')
    if (file === null) return
    const result = await keep(file)
    if ('data' in result && result.data !== undefined) choose(result.data.sha256)
  }
  return (
    <Column gap="$3">
      <Words kind="small">
        Approved by sheet {job.sheet.type} version {job.sheet.version}: {wanted.name}{' '}
        {wanted.approved.map((a) => a.version).join(' or ')}
        {(wanted.features ?? []).length > 0 && `, built with ${wanted.features?.join(', ') ?? ''}`}
      </Words>
      {(wanted.bad ?? []).map(({ version, reason: why }) => (
        <Words key={version} kind="small">
          Known bad: {version}, {why}
        </Words>
      ))}
      {link?.loader === true && !runs && (
        <Notice
          title="The board waits in its loader"
          detail="An image was begun and did not reach its end. What was written is kept."
          todo="Write the image again: it goes on from there."
        />
      )}
      {image !== null && <Progress image={image} />}
      <ProblemNotice problem={problemOf(error)} />
      <Choices
        label="Images for this target"
        choices={fitting.map((i) => [i.sha256, `${i.name} ${i.version}, ${worthOf(i, wanted).word}`] as const)}
        chosen={picked?.sha256}
        choose={choose}
      />
      {fitting.length === 0 && <Words kind="faint">The shop keeps no image for {board.target} yet: add its file.</Words>}
      {picked !== undefined && (
        <Words kind="small">
          {picked.file}, {Math.round(picked.bytes / 1024)} KiB, {worthOf(picked, wanted).why}; SHA-256{' '}
          {picked.sha256.slice(0, 12)}…
        </Words>
      )}
      <Field label="Why: kept on the card" value={reason} onChange={setReason} />
      <Row flexWrap="wrap">
        <Act
          label={picked === undefined ? 'Write an image' : `Write ${picked.name} ${picked.version}`}
          off={picked === undefined || reason.trim().length < 3 || runs || writing.isLoading || !holds || job.closedAt !== null}
          onPress={() => picked !== undefined && void write({ job: job.id, sha256: picked.sha256, reason: reason.trim() })}
        />
        <Act
          kind="quiet"
          label={keeping.isLoading ? 'Reading the file …' : 'Add an image file'}
          off={keeping.isLoading || me?.role === 'reader'}
          onPress={() => void add()}
        />
      </Row>
      {!holds && <Words kind="small">To write one, hold the bench of this airframe.</Words>}
      <ProblemNotice problem={problemOf(keeping.error)} />
      <ProblemNotice problem={problemOf(writing.error)} />
      <Signals sheet={job.sheet} part="board" />
      <Words kind="small">
        What is right is left alone. To leave what runs though it is not approved, a lead sets this check aside with the reason.
      </Words>
    </Column>
  )
}

const phaseWords: Readonly<Record<ImageTell['phase'], string>> = {
  looking: 'Looking at what is there',
  writing: 'Writing',
  verifying: 'Reading back',
  ending: 'Proving the whole',
  restarting: 'Restarting',
  done: 'Written, read back, and running',
  failed: 'Not written to its end',
}

const Progress = ({ image: { version, phase, share, detail } }: { image: ImageTell }) => (
  <Column role="status" aria-live="polite" aria-label="Writing the image" gap="$1">
    <Row justifyContent="space-between">
      <Words kind="strong">
        {phaseWords[phase]}: {version}
      </Words>
      <Reading>{Math.round(share * 100)} %</Reading>
    </Row>
    <View height={6} backgroundColor="$line" role="progressbar" aria-valuenow={Math.round(share * 100)}>
      <View height={6} width={`${share * 100}%`} backgroundColor="$tide" />
    </View>
    {phase === 'failed' && <Words kind="small">{detail ?? ''} The board stays in its loader and can be written again.</Words>}
  </Column>
)
