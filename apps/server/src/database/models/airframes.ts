import type { BuiltPart, Runs, Settings, Sheet } from '@taraf/contract'
import { DataTypes, type Model, type Sequelize } from 'sequelize'

export interface SheetRow {
  id: string
  type: string
  version: number
  body: Sheet
  madeBy: string | null
  madeAt: Date
}

export interface AirframePartRow extends BuiltPart {
  airframeId: string
  place: number
}

export interface AirframeRow {
  id: string
  tag: string
  sheetId: string
  board: string
  /** The board's settings as last seen over a link, so that a change made elsewhere is noticed. */
  boardSettings: Settings | null
  /** Which image ran when it was seen last. */
  boardRuns: Runs | null
  touchedAt: Date
  touchedBy?: string | null
}

export const defineAirframes = (sequelize: Sequelize) => ({
  sheets: sequelize.define<Model<SheetRow, Omit<SheetRow, 'madeBy' | 'madeAt'> & Partial<SheetRow>>>('sheets', {
    id: { type: DataTypes.UUID, primaryKey: true },
    type: DataTypes.TEXT,
    version: DataTypes.INTEGER,
    body: DataTypes.JSONB,
    madeBy: DataTypes.UUID,
    madeAt: { type: DataTypes.DATE, defaultValue: DataTypes.NOW },
  }),
  airframeParts: sequelize.define<Model<AirframePartRow>>('airframe_parts', {
    airframeId: { type: DataTypes.UUID, primaryKey: true },
    place: { type: DataTypes.INTEGER, primaryKey: true },
    part: DataTypes.TEXT,
    model: DataTypes.TEXT,
    serial: DataTypes.TEXT,
    lot: DataTypes.TEXT,
  }),
  airframes: sequelize.define<Model<AirframeRow>>('airframes', {
    id: { type: DataTypes.UUID, primaryKey: true },
    tag: DataTypes.TEXT,
    sheetId: DataTypes.UUID,
    board: DataTypes.TEXT,
    boardSettings: DataTypes.JSONB,
    boardRuns: DataTypes.JSONB,
    touchedAt: DataTypes.DATE,
    touchedBy: DataTypes.UUID,
  }),
})
