import type { Listing, Overall, Standings } from '@taraf/contract'
import { DataTypes, type Model, type Sequelize } from 'sequelize'

export interface JobRow {
  id: string
  airframeId: string
  sheetId: string
  number: number
  openedBy: string
  openedAt: Date
  closedAt: Date | null
  /** What the fold over the entries gave last, and how many there were: a copy for lists, never the record. */
  overall: Overall
  standings: Standings
  length: number
  /** What the list of airframes shows of it. */
  listing: Listing | null
}

/** What a link of either chain is kept as. The entries of cards from before seals have none. */
interface LinkRow {
  canonical: string
  prevHash: Buffer
  hash: Buffer
  requestKey: string | null
  keyId: string | null
  seal: Buffer | null
}
export interface JobEntryRow extends LinkRow {
  jobId: string
  seq: number
}
export interface ShopEntryRow extends LinkRow {
  no: number
}

const link = {
  canonical: DataTypes.TEXT,
  prevHash: DataTypes.BLOB,
  hash: DataTypes.BLOB,
  requestKey: DataTypes.TEXT,
  keyId: DataTypes.TEXT,
  seal: DataTypes.BLOB,
}

export interface EvidenceRow {
  jobId: string
  seq: number
  data: Buffer
  sha256: Buffer
}

export const defineJobs = (sequelize: Sequelize) => ({
  jobs: sequelize.define<Model<JobRow>>('jobs', {
    id: { type: DataTypes.UUID, primaryKey: true },
    airframeId: DataTypes.UUID,
    sheetId: DataTypes.UUID,
    number: DataTypes.INTEGER,
    openedBy: DataTypes.UUID,
    openedAt: DataTypes.DATE,
    closedAt: DataTypes.DATE,
    overall: DataTypes.TEXT,
    standings: DataTypes.JSONB,
    length: DataTypes.INTEGER,
    listing: DataTypes.JSONB,
  }),
  jobEntries: sequelize.define<Model<JobEntryRow>>('job_entries', {
    jobId: { type: DataTypes.UUID, primaryKey: true },
    seq: { type: DataTypes.INTEGER, primaryKey: true },
    ...link,
  }),
  shopEntries: sequelize.define<Model<ShopEntryRow>>('shop_entries', {
    no: { type: DataTypes.INTEGER, primaryKey: true },
    ...link,
  }),
  evidence: sequelize.define<Model<EvidenceRow>>('evidence', {
    jobId: { type: DataTypes.UUID, primaryKey: true },
    seq: { type: DataTypes.INTEGER, primaryKey: true },
    data: DataTypes.BLOB,
    sha256: DataTypes.BLOB,
  }),
})
