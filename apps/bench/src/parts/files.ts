/** Lets the technician choose a file, or take a photo where the device has a camera. Null where none was chosen. */
export const pickFile = (accept: string, camera = false): Promise<File | null> =>
  new Promise((resolve) => {
    const input = document.createElement('input')
    input.type = 'file'
    input.accept = accept
    if (camera) input.capture = 'environment'
    // Held in the page until it is answered, so that it can be reached there.
    input.hidden = true
    input.dataset.pick = accept
    document.body.append(input)
    const end = (file: File | null) => {
      input.remove()
      resolve(file)
    }
    input.addEventListener('change', () => end(input.files?.[0] ?? null))
    input.addEventListener('cancel', () => end(null))
    input.click()
  })

/** Hands a text to the device as a file. */
export const saveFile = (name: string, text: string, type: string): void => {
  const url = URL.createObjectURL(new Blob([text], { type }))
  saveFrom(url, name)
  URL.revokeObjectURL(url)
}

/** Hands what an address answers to the device as a file, named as the answer says where no name is given. */
export const saveFrom = (url: string, name = ''): void => {
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
}
