import type { Unit } from '../design/recipe'
import { LengthRow } from '../fields/LengthRow'
import { useSteps } from '../workbench/view'

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
