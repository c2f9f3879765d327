import { sheet as sheetSchema, type Sheet, type SheetVariant } from '@taraf/contract'
import { compareSheets } from '@taraf/core/compareSheets'
import { contradictionsIn } from '@taraf/core/contradictions'
import { useLocalSearchParams, useRouter } from 'expo-router'
import { useMemo } from 'react'
import type { z } from 'zod'
import { StyleSheet, View as Box } from 'react-native'
import { useMedia, View } from '@tamagui/core'
import { useColours } from '../look/useColours'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { NumberField } from '../parts/NumberField'
import { Plan } from '../parts/Plan'
import { Screen } from '../parts/Screen'
import { Column, Words } from '../parts/type'
import { WrongFields } from '../parts/wrong'
import { problemOf } from '../store/api'
import { useMakeSheetMutation, useSheetQuery } from '../store/sheets'
import { useDraft } from '../store/useDraft'
import { Board } from './form/Board'
import { Booms } from './form/Booms'
import { Limits } from './form/Limits'
import { Rows } from './form/Rows'
import { SettingGroups } from './form/SettingGroups'
import { EscsForm } from './form/Escs'
import { HomeForm } from './form/Home'
import { RotorForm } from './form/Rotor'
import { SwitchPlan } from './form/SwitchPlan'
import { Fitted, WhichChecks } from './form/WhatItHas'
import { sheetPath } from './sheetPath'
import { variantOf } from './variantOf'
import { placeWords } from './placeWords'

/** A new version of a sheet, or a variant of it: the form, the plan drawn live, and what contradicts itself, with the place. */
export const SheetEditor = () => {
  const params = useLocalSearchParams<{ type: string; version: string; variant?: string }>()
  const [type, version] = [params.type, Number(params.version)]
  const { data, error } = useSheetQuery({ type, version })
  if (data === undefined)
    return (
      <Screen>{error === undefined ? <Loading what={`sheet ${type}`} /> : <ProblemNotice problem={problemOf(error)} />}</Screen>
    )
  return <Editor key={`${type}/${version}`} from={data.sheet} variant={params.variant !== undefined} />
}

/** An older sheet leaves checks out without a reason: they are asked for. */
const withReasons = ({ setAside, leavesOut, ...sheet }: Sheet): Sheet => {
  const left = { ...Object.fromEntries((setAside ?? []).map((id) => [id, ''])), ...leavesOut }
  return Object.keys(left).length === 0 ? sheet : { ...sheet, leavesOut: left }
}

const startOf = (from: Sheet, variant: boolean): Sheet =>
  variant
    ? {
        ...withReasons(from),
        type: `${from.type}-`,
        title: `${from.title}, variant`,
        version: 1,
        why: '',
        variantOf: { type: from.type, version: from.version },
      }
    : { ...withReasons(from), why: '' }

const Editor = ({ from, variant }: { from: Sheet; variant: boolean }) => {
  const router = useRouter()
  const { wide } = useMedia()
  const c = useColours()
  const [sheet, setSheet, forget] = useDraft<Sheet>(
    `sheet.${from.type}.${from.version}${variant ? '.variant' : ''}`,
    startOf(from, variant),
  )
  const [make, { isLoading, error }] = useMakeSheetMutation()
  const wrong = useMemo(() => wrongIn(sheet), [sheet])
  const atFields = useMemo(() => new Map(wrong.map(({ place, why }) => [place, why])), [wrong])
  const changed = useMemo(() => compareSheets(from, sheet).length, [from, sheet])
  const set = (news: Partial<Sheet>) => setSheet({ ...sheet, ...news })
  const ready =
    changed > 0 &&
    wrong.length === 0 &&
    (variant ? sheet.type !== `${from.type}-` && sheet.type !== from.type : (sheet.why ?? '').trim().length >= 3)
  const submit = async () => {
    const body: Sheet | SheetVariant = variant ? variantOf(from, sheet) : sheet
    const result = await make(body)
    if (!('data' in result) || result.data === undefined) return
    forget()
    router.replace(sheetPath(result.data.type, result.data.version))
  }
  return (
    <Screen
      actions={
        <>
          <Act
            grow
            kind="main"
            label={isLoading ? 'Making it …' : variant ? 'Make the variant' : 'Make the version'}
            off={!ready || isLoading}
            onPress={() => void submit()}
          />
          <Act label="Start over" onPress={() => setSheet(startOf(from, variant))} />
        </>
      }
    >
      <WrongFields found={atFields}>
        <View flexDirection="column" gap="$5" $wide={{ flexDirection: 'row' }}>
          <Column gap="$3" $wide={{ width: 340 }}>
            <Column gap="$3">
              <Words kind="title">
                {variant ? `Variant of ${from.type} version ${from.version}` : `${from.type}: from version ${from.version}`}
              </Words>
              <Words kind="small" role="status" aria-live="polite">
                {changed === 0
                  ? 'Nothing is changed yet.'
                  : `${changed === 1 ? 'One place differs' : `${changed} places differ`}. What you type is kept on this device.`}
              </Words>
              {variant && (
                <Field label="Type of the variant" place="type" value={sheet.type} onChange={(text) => set({ type: text })} />
              )}
              <Field label="Title" place="title" value={sheet.title} onChange={(title) => set({ title })} />
              <Field label="Why this version is made" value={sheet.why ?? ''} onChange={(why) => set({ why })} />
            </Column>
            <Box style={[styles.stays, { gap: 12 }]}>
              {wide === true && <LivePlan sheet={sheet} size={300} />}
              {wrong.map(({ place, why }) => (
                <Notice key={`${place}${why}`} title={placeWords(place)} detail={why} />
              ))}
              <ProblemNotice problem={problemOf(error)} />
            </Box>
          </Column>
          <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
            <Column gap="$3">
              {wide !== true && (
                <Box style={[styles.stays, { zIndex: 1, backgroundColor: c.paper }]}>
                  <LivePlan sheet={sheet} size={180} />
                </Box>
              )}
              <Booms sheet={sheet} set={set} />
            </Column>
            <Rows
              title="Parts"
              place="parts"
              rows={sheet.parts ?? []}
              change={(parts) => set({ parts })}
              fresh={{ part: '', model: '', count: 1 }}
              row={(one, put) => (
                <>
                  <Field label="Part" place="part" value={one.part} onChange={(part) => put({ ...one, part })} />
                  <Field label="Model" place="model" value={one.model} onChange={(model) => put({ ...one, model })} />
                  <NumberField
                    whole
                    label="How many"
                    place="count"
                    value={one.count}
                    onChange={(count) => put({ ...one, count: count ?? 1 })}
                  />
                </>
              )}
            />
            {sheet.board !== undefined && <Board sheet={sheet} board={sheet.board} set={set} />}
            <EscsForm sheet={sheet} set={set} />
            <RotorForm sheet={sheet} set={set} />
            <HomeForm sheet={sheet} set={set} />
            <SwitchPlan sheet={sheet} set={set} />
            <SettingGroups sheet={sheet} set={set} />
            <Limits sheet={sheet} set={set} />
            <Rows
              title="Firmware of the other parts"
              place="versions"
              rows={sheet.versions ?? []}
              change={(versions) => set({ versions })}
              fresh={{ part: '', approved: [''] }}
              row={(one, put) => (
                <>
                  <Field label="Part" place="part" value={one.part} onChange={(part) => put({ ...one, part })} />
                  <Field
                    label="Approved, commas between"
                    value={one.approved.join(', ')}
                    onChange={(text) => put({ ...one, approved: text.split(',').map((v) => v.trim()) })}
                  />
                </>
              )}
            />
            <Rows
              title="What bypasses the board"
              place="pastBoard"
              rows={sheet.pastBoard ?? []}
              change={(pastBoard) => set({ pastBoard })}
              fresh={{ channel: 9, what: '' }}
              row={(one, put) => (
                <>
                  <NumberField
                    whole
                    label="Channel"
                    place="channel"
                    value={one.channel}
                    onChange={(channel) => put({ ...one, channel: channel ?? 9 })}
                  />
                  <Field label="What it feeds" place="what" value={one.what} onChange={(what) => put({ ...one, what })} />
                </>
              )}
            />
            <Fitted sheet={sheet} set={set} />
            <WhichChecks sheet={sheet} set={set} />
            <Rows
              title="Packed with it"
              place="contents"
              rows={(sheet.contents ?? []).map((what) => ({ what }))}
              change={(contents) => set({ contents: contents.map((c) => c.what) })}
              fresh={{ what: '' }}
              row={(one, put) => <Field label="What" value={one.what} onChange={(what) => put({ what })} />}
            />
          </Column>
        </View>
      </WrongFields>
    </Screen>
  )
}

/** What of a sheet contradicts the rest of it, and what is not as the contract has it; while it is half filled the former may not be told yet. */
const wrongIn = (entered: Sheet): { place: string; why: string }[] => {
  const contradictions = safely(() => contradictionsIn(entered))
  // `why` is asked for by the version that is made, not by what the sheet says.
  const issues = sheetSchema.safeParse({ ...entered, why: 'entered' }).error?.issues ?? []
  const missing = issues.map((issue) => ({ place: placeOf(issue.path), why: plainOf(issue) }))
  return [...contradictions, ...missing.filter(({ place }) => !contradictions.some((c) => c.place === place))]
}

const safely = <T,>(work: () => T[]): T[] => {
  try {
    return work()
  } catch {
    return []
  }
}

const plainOf = (issue: z.core.$ZodIssue): string => {
  if (issue.code === 'invalid_type') return 'enter a value'
  if (issue.code === 'too_small' && issue.origin === 'string') return 'fill this in'
  if (issue.code === 'too_small' && issue.origin !== 'array')
    return issue.inclusive === true ? `at least ${issue.minimum}` : `must be more than ${issue.minimum}`
  if (issue.code === 'too_big' && issue.origin !== 'array') return `at most ${issue.maximum}`
  return issue.message
}

const placeOf = (path: readonly PropertyKey[]): string =>
  path.reduce<string>(
    (at, key) =>
      typeof key === 'number'
        ? `${at}[${key}]`
        : at === 'settings' || at === 'leavesOut'
          ? `${at}["${String(key)}"]`
          : at === ''
            ? String(key)
            : `${at}.${String(key)}`,
    '',
  )

const LivePlan = ({ sheet, size }: { sheet: Sheet; size: number }) => (
  <View alignItems="center" role="region" aria-label="Plan">
    {canDraw(sheet) ? (
      <Plan geometry={sheet.geometry} size={size} />
    ) : (
      <Words kind="faint">Enter every boom to see the plan.</Words>
    )}
  </View>
)

// What is drawn stays in sight while its booms are entered further down: a position that browsers have and phones do not.
const styles = StyleSheet.create({ stays: { position: 'sticky' as 'relative', top: 0 } })

const canDraw = ({ geometry: { booms, body, propDiameterM } }: Sheet): boolean =>
  booms.length > 0 &&
  [propDiameterM, body.lengthM, body.widthM, ...booms.flatMap((b) => [b.bearingDeg, b.radiusM])].every(
    (n) => typeof n === 'number' && Number.isFinite(n),
  ) &&
  booms.every((b) => b.radiusM > 0)
