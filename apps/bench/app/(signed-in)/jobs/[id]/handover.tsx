export { Handover as default } from '../../../../src/screens/Handover'
