/** Signs without their accents, in small letters: as they are typed when something is looked for. */
export const plainly = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase()
