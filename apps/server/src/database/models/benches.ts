import { DataTypes, type Model, type Sequelize } from 'sequelize'

export interface BenchRow {
  id: string
  name: string
  /** `ws://...` of a board's gateway, or `rig:NAME` for a simulated bench. */
  address: string
  heldBy: string | null
  heldJob: string | null
  heldSince: Date | null
  serverId: string | null
  leaseUntil: Date | null
}

export const defineBenches = (sequelize: Sequelize) => ({
  benches: sequelize.define<Model<BenchRow>>('benches', {
    id: { type: DataTypes.UUID, primaryKey: true },
    name: DataTypes.TEXT,
    address: DataTypes.TEXT,
    heldBy: DataTypes.UUID,
    heldJob: DataTypes.UUID,
    heldSince: DataTypes.DATE,
    serverId: DataTypes.TEXT,
    leaseUntil: DataTypes.DATE,
  }),
})
