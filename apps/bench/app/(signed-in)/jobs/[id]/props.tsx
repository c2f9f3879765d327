export { PropCard as default } from '../../../../src/screens/PropCard'
