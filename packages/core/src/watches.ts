export * from './controlWatch'
export * from './holdWatch'
export * from './knockWatch'
export * from './meanwhile'
