// Schemas as JSON Schema: Zod offers them on every schema, and this application asks for none.
const none = () => () => {
  throw new Error('no JSON Schema in the application')
}
export const createToJSONSchemaMethod = none
export const createStandardJSONSchemaMethod = none
