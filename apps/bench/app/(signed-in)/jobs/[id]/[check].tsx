export { CheckScreen as default } from '../../../../src/screens/CheckScreen'
