import type { Sheet } from '@taraf/contract'
import { Choices } from '../../parts/Choices'
import { Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Column, Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'
import { Rows } from './Rows'

type SheetBoard = NonNullable<Sheet['board']>
const uses = ['free', 'receiver', 'position', 'telemetry', 'video', 'gimbal'] as const

export const Board = ({ sheet, board, set }: PartProps & { board: SheetBoard }) => {
  const change = (news: Partial<SheetBoard>) => set({ board: { ...board, ...news } })
  const { firmware } = board
  return (
    <>
      <Paper>
        <Words kind="heading">Board</Words>
        <Field label="Target" place="board.target" value={board.target} onChange={(target) => change({ target })} />
        {firmware !== undefined && (
          <Row flexWrap="wrap" alignItems="flex-start">
            <Field label="Firmware" value={firmware.name} onChange={(name) => change({ firmware: { ...firmware, name } })} />
            <Field
              label="Approved, commas between"
              value={firmware.approved.map((a) => a.version).join(', ')}
              onChange={(text) =>
                change({ firmware: { ...firmware, approved: text.split(',').map((v) => ({ version: v.trim() })) } })
              }
            />
            <Field
              label="Built with, commas between"
              value={(firmware.features ?? []).join(', ')}
              onChange={(text) =>
                change({
                  firmware: {
                    ...firmware,
                    features: text
                      .split(',')
                      .map((v) => v.trim())
                      .filter((v) => v !== ''),
                  },
                })
              }
            />
          </Row>
        )}
      </Paper>
      {firmware !== undefined && (
        <Rows
          title="Known bad"
          place="board.firmware.bad"
          rows={firmware.bad ?? []}
          change={(bad) => change({ firmware: { ...firmware, bad } })}
          fresh={{ version: '', reason: '' }}
          row={(one, put) => (
            <>
              <Field
                narrow
                label="Version"
                place="version"
                value={one.version}
                onChange={(version) => put({ ...one, version })}
              />
              <Field label="Reason" place="reason" value={one.reason} onChange={(reason) => put({ ...one, reason })} />
            </>
          )}
        />
      )}
      <Rows<SheetBoard['sockets'][number]>
        title="Sockets"
        place="board.sockets"
        rows={board.sockets}
        change={(sockets) => change({ sockets })}
        fresh={{ socket: (board.sockets[board.sockets.length - 1]?.socket ?? 0) + 1, use: 'free' }}
        row={(one, put) => (
          <Column flex={1}>
            <Choices
              label={`Socket ${one.socket}`}
              choices={uses.map((use) => [use, use] as const)}
              chosen={one.use}
              choose={(use) => put({ ...one, use })}
            />
          </Column>
        )}
      />
      {sheet.hoverAmps !== undefined && (
        <Paper>
          <NumberField
            label="Current in hover, A"
            place="hoverAmps"
            value={sheet.hoverAmps}
            onChange={(hoverAmps) => set(hoverAmps === undefined ? {} : { hoverAmps })}
          />
        </Paper>
      )}
    </>
  )
}
