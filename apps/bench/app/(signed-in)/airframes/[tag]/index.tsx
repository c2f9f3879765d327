export { Airframe as default } from '../../../../src/screens/Airframe'
