import type { Finding } from '@taraf/contract'
import { useEffect, useState } from 'react'
import { G, Line, Path, Text as SvgText } from 'react-native-svg'
import { useColours } from '../../look/useColours'
import { Act } from '../../parts/Act'
import { Figure } from '../../parts/Figure'
import { Loading, Notice } from '../../parts/Notice'
import { Column, Row, Words } from '../../parts/type'
import type { ResultProps } from '../panel'
import type { DrawnSpectrum } from './spectra'
import { multiplesOf, scaleOf } from './spectrumScale'
import { startSpectra, type Spectra } from './startSpectra'

/** How each motor shakes by frequency, all to one scale, with its turning rate and the multiples of it. */
export const SmoothResult = ({ job, take }: ResultProps) => {
  const [told, setTold] = useState<{ readonly asked: string; readonly spectra: Spectra } | null>(null)
  const [tries, setTries] = useState(0)
  const kept = take.body.evidenceSha256 !== null && take.body.verdict !== 'refused'
  const address = `/api/jobs/${job.id}/takes/${take.seq}/evidence?stream=imuBurst`
  const asked = `${address} ${tries}`
  useEffect(() => (kept ? startSpectra(address, (spectra) => setTold({ asked, spectra })) : undefined), [address, asked, kept])
  if (!kept) return null
  // What became of another take, or of a try before, is none of this one.
  const found = told?.asked === asked ? told.spectra : null
  if (found === null) return <Loading what="the spectra" />
  if ('why' in found)
    return (
      <Column>
        <Notice title="The spectra are not there" detail={found.why} todo="Look again; the verdict stands without them." />
        <Row>
          <Act label="Look again" onPress={() => setTries(tries + 1)} />
        </Row>
      </Column>
    )
  const { spectra } = found
  const scale = scaleOf(spectra.flatMap(({ stretches }) => stretches))
  return (
    <Column gap="$2">
      {spectra.map((one) => (
        <Column key={one.output} gap="$0">
          <Words kind="small">
            Output {one.output}, {speedOf(take.body.findings, one.output).toFixed(0)} rpm
          </Words>
          <SpectrumLine spectrum={one} turningHz={speedOf(take.body.findings, one.output) / 60} scale={scale} />
        </Column>
      ))}
      <Words kind="small">
        Velocity by frequency, mm/s rms, each step up ten times as much; all to one scale. A solid mark is the turning rate,
        hollow ones its multiples.
      </Words>
    </Column>
  )
}

const speedOf = (findings: readonly Finding[], output: number): number =>
  Number(findings.find(({ key }) => key === `speed${output}`)?.value ?? 0)

const [width, height, left, right, top, floor] = [340, 92, 34, 8, 6, 66]

interface LineProps {
  readonly spectrum: DrawnSpectrum
  readonly turningHz: number
  readonly scale: ReturnType<typeof scaleOf>
}

const SpectrumLine = ({ spectrum: { output, stretches }, turningHz, scale }: LineProps) => {
  const c = useColours()
  const x = (share: number) => left + share * (width - left - right)
  const y = (value: number) => floor - scale.share(value) * (floor - top)
  const strongest = Math.max(...stretches)
  const at = stretches.indexOf(strongest)
  const marks = multiplesOf(turningHz, scale.toHz)
  return (
    <Figure
      width={width}
      height={height}
      words={`Output ${output}: strongest ${strongest.toPrecision(2)} mm/s near ${(((at + 0.5) * scale.toHz) / stretches.length).toFixed(0)} Hz; it turns at ${turningHz.toFixed(0)} Hz`}
    >
      {scale.decades.map((value) => (
        <G key={value}>
          <Line x1={left} x2={width - right} y1={y(value)} y2={y(value)} stroke={c.line} strokeWidth={1} />
          <SvgText x={left - 4} y={y(value) + 4} fontSize={10} fontFamily="Readings" fill={c.faint} textAnchor="end">
            {value}
          </SvgText>
        </G>
      ))}
      <Path
        d={stretches.map((value, i) => `M${x((i + 0.5) / stretches.length).toFixed(1)} ${floor}V${y(value).toFixed(1)}`).join('')}
        stroke={c.ink}
        strokeWidth={1.3}
      />
      {marks.map((hz, i) => (
        <Path
          key={hz}
          d={`M${x(hz / scale.toHz)} ${floor + 2} l4 8 h-8 Z`}
          fill={i === 0 ? c.tide : 'none'}
          stroke={c.tide}
          strokeWidth={1.2}
        />
      ))}
      {[0, 250, 500, 750, 1000].map((hz) => (
        <SvgText
          key={hz}
          x={x(hz / scale.toHz)}
          y={height - 4}
          fontSize={10}
          fontFamily="Readings"
          fill={c.faint}
          textAnchor="middle"
        >
          {hz === 1000 ? 'Hz' : hz}
        </SvgText>
      ))}
    </Figure>
  )
}
