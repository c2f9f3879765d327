export { SheetScreen as default } from '../../../../../src/sheets/SheetScreen'
