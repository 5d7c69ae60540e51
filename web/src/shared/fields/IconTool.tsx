import { IconButton, type IconButtonProps } from '@chakra-ui/react'

/** A button that is a picture: its name is told on pointing at it, and to those who cannot see it. */
export function IconTool({ name, ...rest }: IconButtonProps & { name: string }) {
  return <IconButton aria-label={name} title={name} {...rest} />
}
