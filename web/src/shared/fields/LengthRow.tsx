import type { ComponentProps } from 'react'
import { LengthField } from './LengthField'
import { Row } from './Panel'

/** A length by its name. */
export function LengthRow(props: ComponentProps<typeof LengthField>) {
  return (
    <Row label={props.label}>
      <LengthField {...props} />
    </Row>
  )
}
