export { Shortcuts as default } from '../../src/screens/Shortcuts'
