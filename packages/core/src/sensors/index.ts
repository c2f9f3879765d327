import { gyroRest } from './gyroRest'

export const sensors = [gyroRest]
