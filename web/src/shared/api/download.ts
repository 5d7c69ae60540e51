// Files from the server, saved where the browser saves files.

import { answer } from './client'

/** Saves what is in a blob under a name. */
export function saveAs(name: string, content: Blob) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

/** A name for a file, of what is called so. */
export const fileName = (called: string, otherwise: string) =>
  called.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || otherwise

/** Saves the file that a call answers, under the name it comes with. Throws a Problem. */
export async function download(
  call: Promise<{ data?: unknown; error?: unknown; response: Response }>,
): Promise<void> {
  const result = await call
  const content = (await answer(Promise.resolve(result))) as Blob
  const told = /filename\*=UTF-8''([^;]+)/.exec(result.response.headers.get('Content-Disposition') ?? '')
  saveAs(told?.[1] ? decodeURIComponent(told[1]) : 'sheet', content)
}
