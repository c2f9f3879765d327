import type { Settings, Sheet } from '@taraf/contract'
import { DataTypes, type Model, type Sequelize } from 'sequelize'

export interface SheetRow {
  id: string
  type: string
  version: number
  body: Sheet
}

export interface AirframeRow {
  id: string
  tag: string
  sheetId: string
  board: string
  /** The board's settings as last seen over a link, so that a change made elsewhere is noticed. */
  boardSettings: Settings | null
  touchedAt: Date
}

export const defineAirframes = (sequelize: Sequelize) => ({
  sheets: sequelize.define<Model<SheetRow>>('sheets', {
    id: { type: DataTypes.UUID, primaryKey: true },
    type: DataTypes.TEXT,
    version: DataTypes.INTEGER,
    body: DataTypes.JSONB,
  }),
  airframes: sequelize.define<Model<AirframeRow>>('airframes', {
    id: { type: DataTypes.UUID, primaryKey: true },
    tag: DataTypes.TEXT,
    sheetId: DataTypes.UUID,
    board: DataTypes.TEXT,
    boardSettings: DataTypes.JSONB,
    touchedAt: DataTypes.DATE,
  }),
})
