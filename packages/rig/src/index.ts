export * from './faults'
export * from './fleet'
export * from './rig'
export * from './random'
