import type { Sequelize } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'
import { record } from './0001_record'
import { confirmed } from './0002_confirmed'
import { earlier } from './0003_earlier'
import { intake } from './0004_intake'
import { fences } from './0005_fences'
import { sealed } from './0006_sealed'
import { servers } from './0007_servers'
import { listing } from './0008_listing'
import { transmitters } from './0009_transmitters'
import { motorHeat } from './0010_motor_heat'

const migrations = [record, confirmed, earlier, intake, fences, sealed, servers, listing, transmitters, motorHeat]

/** Brings the database up to this version of Taraf, each migration in its own transaction. */
export const migrate = async (sequelize: Sequelize): Promise<string[]> => {
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({
      name,
      up: () => sequelize.transaction((transaction) => sequelize.query(up, { transaction })),
    })),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  })
  return (await umzug.up()).map((m) => m.name)
}
