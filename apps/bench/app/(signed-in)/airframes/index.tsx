export { Airframes as default } from '../../../src/screens/Airframes'
