export { Label as default } from '../../../../src/screens/Label'
