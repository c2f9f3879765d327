export { BatchNotes as default } from '../../src/screens/BatchNotes'
