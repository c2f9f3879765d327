import type { Role } from '@taraf/contract'
import { DataTypes, type Model, type Sequelize } from 'sequelize'

export interface PersonRow {
  id: string
  login: string
  name: string
  role: Role
  passwordHash: string
  /** From then on they can do nothing any more. */
  withdrawnAt: Date | null
}

export const definePeople = (sequelize: Sequelize) => ({
  people: sequelize.define<Model<PersonRow>>('people', {
    id: { type: DataTypes.UUID, primaryKey: true },
    login: DataTypes.TEXT,
    name: DataTypes.TEXT,
    role: DataTypes.TEXT,
    passwordHash: DataTypes.TEXT,
    withdrawnAt: DataTypes.DATE,
  }),
})
