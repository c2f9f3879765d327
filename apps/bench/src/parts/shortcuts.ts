/** Every key that does something, and where. */
export const shortcuts = [
  { key: 't', where: 'a check', does: 'Start, or run again' },
  { key: 'n', where: 'a check', does: 'Go on: the airframe is in position' },
  { key: 'Escape', where: 'a check', does: 'Stop' },
  { key: 'r', where: 'a check', does: 'Do the remedy that Taraf can do' },
  { key: 'y', where: 'a list', does: 'Yes, and on to the next item' },
  { key: 'n', where: 'a list', does: 'No' },
  { key: 'Up, Down', where: 'a list', does: 'To another item' },
  { key: '/', where: 'the airframes', does: 'Search' },
  { key: 'h', where: 'a job card', does: 'Show or hide the simulated hands' },
  { key: 'd', where: 'anywhere', does: 'Go to Today' },
  { key: 'g', where: 'anywhere', does: 'Go to the airframes' },
  { key: 'Space', where: 'anywhere', does: 'Stop all, while anything turns or is armed' },
  { key: 'Enter', where: 'a round button', does: 'Held down: what holding the button does' },
  { key: '?', where: 'anywhere', does: 'Show this page' },
] as const
