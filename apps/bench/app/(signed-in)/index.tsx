export { Today as default } from '../../src/screens/Today'
