/** The longest side of a photo that is kept, in dots. */
const most = 1600

/** A photo as a JPEG of a size that a small barn can keep. */
export async function smaller(file: File): Promise<File> {
  const picture = await createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => null)
  if (!picture) return file // no picture: the server says so
  const scale = Math.min(1, most / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * scale)
  canvas.height = Math.round(picture.height * scale)
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.85))
  return blob ? new File([blob], 'photo.jpg', { type: 'image/jpeg' }) : file
}
