import type { Unit } from '../../shared/design/recipe'
import { LengthRow } from '../../shared/fields/LengthRow'
import { useSteps } from '../../shared/view/view'

/** How far an arrow key moves letters and points. */
export function StepRow({ label, unit }: { label: string; unit: Unit }) {
  const { stepMm, setStep } = useSteps()
  return (
    <LengthRow
      label={label}
      mm={stepMm}
      unit={unit}
      min={0.001}
      max={100}
      stepMm={unit === 'in' ? 0.0254 : 0.1}
      onChange={setStep}
    />
  )
}
