/** What a call takes that sends a file, with what is said of it. */
export function upload(file: File, fields: Record<string, string | number> = {}) {
  const body = new FormData()
  body.append('file', file)
  for (const [key, value] of Object.entries(fields)) body.append(key, String(value))
  return { body: body as never, bodySerializer: (form: unknown) => form as never }
}
