export { Sheets as default } from '../../../src/sheets/Sheets'
