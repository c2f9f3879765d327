export { SheetEditor as default } from '../../../../../src/sheets/SheetEditor'
