import { Button, Flex, IconButton, Input } from '@chakra-ui/react'
import { Download, Redo2, Undo2 } from 'lucide-react'
import { memo, useState } from 'react'
import { answer, api, asProblem, type Problem } from '../api/client'
import { saveAs } from '../api/download'
import { waits } from '../check/gate'
import type { Unit } from '../design/recipe'
import { endStep, redo, undo, useDesign, useHistory } from '../design/store'
import { useEvaluations, useTrouble } from '../evaluation/store'
import { Brand } from '../fields/Brand'
import { Segments } from '../fields/Segments'
import { SaveNote } from './SaveNote'
import { useView } from './view'

const UNITS = [
  { value: 'mm', label: 'mm' },
  { value: 'in', label: 'in' },
] as const

interface Props {
  onProblem: (problem: Problem | null) => void
}

export const TopBar = memo(function TopBar({ onProblem }: Props) {
  const name = useDesign((s) => s.name)
  const unit = useDesign((s) => s.recipe.unit)
  const rename = useDesign((s) => s.rename)
  const editRecipe = useDesign((s) => s.editRecipe)
  const canUndo = useHistory((h) => h.pastStates.length > 0)
  const canRedo = useHistory((h) => h.futureStates.length > 0)
  return (
    <Flex
      as="header"
      height="bar"
      flexShrink="0"
      px="4"
      gap="3"
      align="center"
      bg="card"
      borderBottomWidth="1px"
      borderColor="rule"
    >
      <Brand />
      <Input
        aria-label="Name of the design"
        value={name}
        onChange={(e) => rename(e.target.value)}
        onBlur={endStep}
        maxLength={120}
        size="sm"
        width="260px"
        ml="3"
        fontWeight="600"
        fontSize="md"
        borderColor="transparent"
        _hover={{ borderColor: 'rule' }}
        placeholder="Untitled"
      />
      <SaveNote />
      <Flex flex="1" />
      <Segments<Unit>
        label="Unit"
        value={unit}
        options={UNITS}
        onChange={(chosen) => {
          endStep()
          editRecipe({ unit: chosen })
        }}
      />
      <IconButton
        aria-label={canUndo ? 'Undo' : 'Undo: nothing to undo yet'}
        title={canUndo ? 'Undo (Ctrl+Z)' : 'Nothing to undo yet'}
        aria-disabled={!canUndo}
        opacity={canUndo ? 1 : 0.4}
        size="sm"
        variant="outline"
        onClick={undo}
      >
        <Undo2 size={17} />
      </IconButton>
      <IconButton
        aria-label={canRedo ? 'Redo' : 'Redo: nothing was undone'}
        title={canRedo ? 'Redo (Ctrl+Shift+Z)' : 'Nothing was undone'}
        aria-disabled={!canRedo}
        opacity={canRedo ? 1 : 0.4}
        size="sm"
        variant="outline"
        onClick={redo}
      >
        <Redo2 size={17} />
      </IconButton>
      <SaveSvg onProblem={onProblem} />
    </Flex>
  )
})

/** Saves the outline as a file. Where there is none it says why, rather than doing nothing. */
function SaveSvg({ onProblem }: Props) {
  const trouble = useTrouble()
  const ready = useEvaluations((s) => s.evaluation !== undefined && s.troubles.length === 0)
  // In the Cut stage the knife is the next thing, and files have a section of their own.
  const quiet = useView((s) => s.stage === 'cut')
  const [saving, setSaving] = useState(false)
  async function save(anyway = false) {
    const { name, recipe } = useDesign.getState()
    setSaving(true)
    try {
      const document = await answer(api.POST('/api/svg', { body: { name, recipe, anyway }, parseAs: 'text' }))
      saveAs(`${fileName(name)}.svg`, new Blob([document], { type: 'image/svg+xml' }))
      onProblem(null)
    } catch (error) {
      const go = () => save(true)
      const waiting = { to: 'file', label: 'Save as SVG', allTheSame: 'Save all the same', go } as const
      if (!waits(error, waiting)) onProblem(asProblem(error))
    } finally {
      setSaving(false)
    }
  }
  return (
    <Button
      onClick={() => save()}
      loading={saving}
      {...(quiet
        ? { variant: 'outline' as const }
        : { bg: 'knife', color: 'card', _hover: { bg: 'knifeDeep' } })}
      size="sm"
      fontWeight="650"
      title={
        ready ? 'Save the outline at true size' : (trouble?.problem.message ?? 'The outline is being made')
      }
    >
      <Download size={17} />
      Save as SVG
    </Button>
  )
}

const fileName = (name: string) => name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'lettering'
