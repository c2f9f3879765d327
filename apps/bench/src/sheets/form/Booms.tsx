import type { Sheet } from '@taraf/contract'
import { Act } from '../../parts/Act'
import { BesideFields, Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Column, Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'
import { Rows } from './Rows'

type Boom = Sheet['geometry']['booms'][number]

export const Booms = ({ sheet, set }: PartProps) => {
  const { geometry } = sheet
  const change = (news: Partial<Sheet['geometry']>) => set({ geometry: { ...geometry, ...news } })
  const freshOutput = Math.max(0, ...geometry.booms.flatMap((b) => b.motors.map((m) => m.output))) + 1
  const motor = (boom: Boom, m: number, news: Partial<Boom['motors'][number]>): Boom => ({
    ...boom,
    motors: boom.motors.map((one, i) => (i === m ? { ...one, ...news } : one)),
  })
  return (
    <>
      <Paper>
        <Words kind="heading">Body and props</Words>
        <Row flexWrap="wrap" alignItems="flex-start">
          <NumberField
            label="Body, length m"
            place="geometry.body.lengthM"
            value={geometry.body.lengthM}
            onChange={(lengthM) => change({ body: { ...geometry.body, lengthM: lengthM ?? NaN } })}
          />
          <NumberField
            label="Body, width m"
            place="geometry.body.widthM"
            value={geometry.body.widthM}
            onChange={(widthM) => change({ body: { ...geometry.body, widthM: widthM ?? NaN } })}
          />
          <NumberField
            label="Prop, diameter m"
            place="geometry.propDiameterM"
            value={geometry.propDiameterM}
            onChange={(propDiameterM) => change({ propDiameterM: propDiameterM ?? NaN })}
          />
        </Row>
      </Paper>
      <Rows<Boom>
        title="Booms"
        place="geometry.booms"
        rows={geometry.booms}
        change={(booms) => change({ booms })}
        fresh={{
          name: '',
          bearingDeg: 0,
          radiusM: geometry.booms[0]?.radiusM ?? 0.2,
          motors: [{ tier: 'only', output: freshOutput, turn: 'clockwise' }],
        }}
        row={(boom, put) => (
          <Column flex={1} minWidth={0}>
            <Row flexWrap="wrap" alignItems="flex-start">
              <Field label="Name" place="name" value={boom.name} onChange={(name) => put({ ...boom, name })} />
              <Row flex={1} minWidth={180} alignItems="flex-start">
                <NumberField
                  label="Bearing, deg"
                  place="bearingDeg"
                  value={boom.bearingDeg}
                  onChange={(bearingDeg) => put({ ...boom, bearingDeg: bearingDeg ?? NaN })}
                />
                <NumberField
                  label="Radius, m"
                  place="radiusM"
                  value={boom.radiusM}
                  onChange={(radiusM) => put({ ...boom, radiusM: radiusM ?? NaN })}
                />
              </Row>
            </Row>
            {boom.motors.map(({ tier, output, turn }, m) => (
              <Row key={tier} alignItems="flex-start">
                <NumberField
                  whole
                  place={`motors[${m}].output`}
                  label={`Output${tier === 'only' ? '' : `, ${tier}`}`}
                  value={output}
                  onChange={(value) => put(motor(boom, m, { output: value ?? 0 }))}
                />
                <BesideFields>
                  <Act
                    label={turn}
                    named={`${boom.name}${tier === 'only' ? '' : `, ${tier}`} turns ${turn}: change it`}
                    onPress={() => put(motor(boom, m, { turn: turn === 'clockwise' ? 'anticlockwise' : 'clockwise' }))}
                  />
                </BesideFields>
              </Row>
            ))}
            <Row>
              <Act
                kind="quiet"
                label={boom.motors.length === 1 ? 'Two motors, upper and lower' : 'One motor only'}
                named={`${boom.name}: ${boom.motors.length === 1 ? 'two motors, upper and lower' : 'one motor only'}`}
                onPress={() =>
                  put({
                    ...boom,
                    motors:
                      boom.motors.length === 1
                        ? [
                            { ...(boom.motors[0] as Boom['motors'][number]), tier: 'upper' },
                            {
                              tier: 'lower',
                              output: freshOutput,
                              turn: boom.motors[0]?.turn === 'clockwise' ? 'anticlockwise' : 'clockwise',
                            },
                          ]
                        : [{ ...(boom.motors[0] as Boom['motors'][number]), tier: 'only' }],
                  })
                }
              />
            </Row>
          </Column>
        )}
      />
    </>
  )
}
