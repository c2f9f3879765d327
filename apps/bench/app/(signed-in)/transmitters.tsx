export { Transmitters as default } from '../../src/screens/Transmitters'
