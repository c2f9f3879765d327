export { Register as default } from '../../src/screens/Register'
