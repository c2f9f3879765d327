import type { Sheet } from '@taraf/contract'
import { escSetting, escValueWords, groupsOf } from '@taraf/core'
import { compareSheets } from '@taraf/core/compareSheets'
import { useLocalSearchParams, useRouter } from 'expo-router'
import { useState } from 'react'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { saveFile } from '../parts/files'
import { Plan } from '../parts/Plan'
import { Screen } from '../parts/Screen'
import { TwoColumns, unbroken } from '../parts/TwoColumns'
import { Beside, Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { useSheetQuery } from '../store/sheets'
import { sheetPath } from './sheetPath'
import { placeWords } from './placeWords'

/** One version of a build sheet, whole, and what it changed. */
export const SheetScreen = () => {
  const params = useLocalSearchParams<{ type: string; version: string }>()
  const [type, version] = [params.type, Number(params.version)]
  const { data, error, refetch } = useSheetQuery({ type, version })
  const { data: me } = useMeQuery()
  const router = useRouter()
  const lead = me?.role === 'lead'
  const action = (
    <>
      <Act
        grow
        kind="main"
        label="Edit as a new version"
        off={!lead || data === undefined}
        onPress={() => router.push(sheetPath(type, version, '/edit'))}
      />
      <Act
        label="Make a variant"
        off={!lead || data === undefined}
        onPress={() => router.push(sheetPath(type, version, '/edit?variant=1'))}
      />
    </>
  )
  return (
    <Screen actions={action}>
      <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
      {data === undefined && error === undefined && <Loading what={`sheet ${type}`} />}
      {data !== undefined && (
        <Beside>
          <Column gap="$3" $wide={{ width: 320 }}>
            <Row justifyContent="space-between" flexWrap="wrap">
              <Words kind="title">
                {type}, version {version}
              </Words>
              <Act kind="quiet" label="All sheets" onPress={() => router.push('/sheets')} />
            </Row>
            <Words kind="strong">{data.sheet.title}</Words>
            {data.sheet.why !== undefined && <Words>{data.sheet.why}</Words>}
            <Words kind="small">
              {data.used ? 'Used by a job card: it never changes.' : 'Not used yet.'}
              {data.sheet.variantOf !== undefined &&
                ` A variant of ${data.sheet.variantOf.type} version ${data.sheet.variantOf.version}.`}
            </Words>
            <View alignItems="center">
              <Plan geometry={data.sheet.geometry} size={280} />
            </View>
            {!lead && <Words kind="small">A lead makes versions and variants.</Words>}
            <Row>
              <Act
                label="Save as JSON"
                onPress={() => saveFile(`sheet-${type}-${version}.json`, JSON.stringify(data.sheet, null, 2), 'application/json')}
              />
            </Row>
            <Compare sheet={data.sheet} versions={data.versions} />
          </Column>
          <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
            <TwoColumns least={340}>
              <SheetBody sheet={data.sheet} />
            </TwoColumns>
          </Column>
        </Beside>
      )}
    </Screen>
  )
}

/** Where this version differs from another of its type, or from the parent of a variant. */
const Compare = ({ sheet, versions }: { sheet: Sheet; versions: readonly number[] }) => {
  const others = versions.filter((v) => v !== sheet.version)
  const [chosen, choose] = useState<string | undefined>(sheet.variantOf !== undefined ? 'parent' : undefined)
  const parent = sheet.variantOf
  const of = chosen === 'parent' ? parent : chosen === undefined ? undefined : { type: sheet.type, version: Number(chosen) }
  const { data } = useSheetQuery(of ?? { type: sheet.type, version: sheet.version }, { skip: of === undefined })
  if (others.length === 0 && parent === undefined) return null
  const differences = of === undefined || data === undefined ? null : compareSheets(data.sheet, sheet)
  return (
    <Column role="region" aria-label="Comparison">
      <Choices
        label="Compare with"
        choices={[
          ...(parent === undefined ? [] : [['parent', `its parent, ${parent.type} ${parent.version}`] as const]),
          ...others.map((v) => [String(v), `version ${v}`] as const),
        ]}
        chosen={chosen}
        choose={choose}
      />
      {differences?.length === 0 && <Words kind="faint">They say the same.</Words>}
      {differences?.map(({ place, from, to }) => (
        <Column key={place} gap="$0" borderLeftWidth={2} borderColor="$mark" paddingLeft="$3">
          <Words kind="small">{placeWords(place)}</Words>
          <Reading>
            {from ?? 'nothing'} → {to ?? 'nothing'}
          </Reading>
        </Column>
      ))}
    </Column>
  )
}

const Section = ({ title, lines }: { title: string; lines: readonly (readonly [string, string])[] }) =>
  lines.length === 0 ? null : (
    <Paper marginBottom="$3" style={unbroken}>
      <Words kind="heading">{title}</Words>
      {lines.map(([label, value]) => (
        <Row key={label} justifyContent="space-between" flexWrap="wrap" borderBottomWidth={1} borderColor="$line" rowGap="$0">
          <Words>{label}</Words>
          <Reading flexShrink={1} textAlign="right">
            {value}
          </Reading>
        </Row>
      ))}
    </Paper>
  )

const bandWords = ({ channel, from, to }: { channel: number; from: number; to: number }) =>
  `channel ${channel}, ${from} to ${to} us`

const rotorLines = ({ kv, hover, props, lower }: NonNullable<Sheet['rotor']>): [string, string][] => [
  ['KV of the motors', `${kv} rpm for each volt`],
  ...(hover === undefined
    ? []
    : ([['Command in hover', `${hover}, at mid-pack voltage and with the payload`]] as [string, string][])),
  ...(props === undefined
    ? []
    : ([['Marks of the props', `clockwise ${props.clockwise}, anticlockwise ${props.anticlockwise}`]] as [string, string][])),
  ...(lower === undefined ? [] : ([['Props of lower motors', `${lower}s`]] as [string, string][])),
]
const escLines = ({ understands, settings, reasons = {}, badWith = [] }: NonNullable<Sheet['escs']>): [string, string][] => [
  ['understand', understands.join(', ')],
  ...Object.entries(settings).map(([name, value]): [string, string] => {
    const why = reasons[name]
    return [escSetting(name).words.toLowerCase(), escValueWords(name, value) + (why === undefined ? '' : `: ${why}`)]
  }),
  ...badWith.map(({ firmware, board, reason }): [string, string] => [`${firmware} is bad with board ${board}`, reason]),
]

const SheetBody = ({ sheet }: { sheet: Sheet }) => {
  const {
    geometry,
    parts = [],
    board,
    versions = [],
    escs,
    rotor,
    switchPlan = [],
    switches = [],
    settings,
    limits,
    pastBoard = [],
    contents = [],
  } = sheet
  const spanOf = ({ min, max }: Sheet['limits'][string]) =>
    [min === undefined ? '' : `from ${min}`, max === undefined ? '' : `to ${max}`].filter((w) => w !== '').join(' ')
  return (
    <>
      <Section
        title="Booms"
        lines={geometry.booms.map(({ name, bearingDeg, radiusM, motors }) => [
          name,
          `${bearingDeg} deg, ${radiusM} m; ${motors.map((m) => `${m.tier === 'only' ? '' : `${m.tier}: `}output ${m.output} ${m.turn}`).join(', ')}`,
        ])}
      />
      <Section title="Parts" lines={parts.map(({ part, model, count }) => [part, `${count > 1 ? `${count} × ` : ''}${model}`])} />
      <Section
        title="Board"
        lines={
          board === undefined
            ? []
            : [
                ['target', board.target],
                ...board.sockets.map(({ socket, use }) => [`socket ${socket}`, use] as const),
                ...(board.firmware === undefined
                  ? []
                  : ([
                      ['approved', `${board.firmware.name} ${board.firmware.approved.map((a) => a.version).join(' or ')}`],
                      ...(board.firmware.bad ?? []).map((b) => [`known bad: ${b.version}`, b.reason] as const),
                      ['built with', (board.firmware.features ?? []).join(', ')],
                    ] as const)),
              ]
        }
      />
      <Section title="Firmware of the other parts" lines={versions.map(({ part, approved }) => [part, approved.join(' or ')])} />
      <Section title="ESCs" lines={escs === undefined ? [] : escLines(escs)} />
      <Section title="Rotor" lines={rotor === undefined ? [] : rotorLines(rotor)} />
      <Section title="Packs" lines={sheet.pack === undefined ? [] : [['cells in series', `${sheet.pack.cells}`]]} />
      <Section
        title="Switch plan"
        lines={switchPlan.map((row) => [
          row.function,
          [
            bandWords(row),
            ...(row.with === undefined ? [] : [`and ${bandWords(row.with)}`]),
            ...(row.restriction === undefined ? [] : [row.restriction]),
            ...(row.meant === undefined ? [] : [`without a switch: ${row.meant}`]),
          ].join('; '),
        ])}
      />
      <Section
        title="Switches of the transmitter"
        lines={switches.map(({ name, channel, positions, atPowerUp, alike }) => [
          name,
          `channel ${channel}, ${positions} positions, in ${atPowerUp} at power-up${alike === undefined ? '' : `; two alike: ${alike}`}`,
        ])}
      />
      {groupsOf(Object.keys(settings)).map(([group, names]) => (
        <Section key={group} title={`Settings: ${group}`} lines={names.map((name) => [name, String(settings[name])])} />
      ))}
      <Section
        title="Own limits"
        lines={Object.entries(limits).map(([name, limit]) => [name, `${spanOf(limit)}: ${limit.reason}`])}
      />
      <Section title="What bypasses the board" lines={pastBoard.map(({ channel, what }) => [`channel ${channel}`, what])} />
      <Section title="Packed with it" lines={contents.map((content) => [content, ''])} />
      {Object.keys(limits).length === 0 && (
        <Notice title="No own limits" todo="Every limit is the shop’s; a new version may set one, with its reason." />
      )}
    </>
  )
}
