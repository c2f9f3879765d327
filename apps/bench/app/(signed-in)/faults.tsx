export { Faults as default } from '../../src/screens/Faults'
