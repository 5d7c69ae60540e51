export function DrawingPicker() {
  return null
}
