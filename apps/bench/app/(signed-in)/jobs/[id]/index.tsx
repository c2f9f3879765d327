export { JobCard as default } from '../../../../src/screens/JobCard'
