import { fieldMapOf, type Field } from './fieldMap'

// Runs beside the page, so that the fit never holds up what is drawn.
self.onmessage = ({ data }: MessageEvent<Field>) => self.postMessage(fieldMapOf(data))
