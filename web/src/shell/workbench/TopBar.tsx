import { Button, Flex, IconButton, Input } from '@chakra-ui/react'
import { useMutation } from '@tanstack/react-query'
import { ArrowLeft, Download, History, ListOrdered, Redo2, Undo2 } from 'lucide-react'
import { memo, useEffect } from 'react'
import { Link, useNavigate } from 'react-router'
import { answer, api, asProblem } from '../../shared/api/client'
import { whenSaved } from '../../shared/design/autosave'
import type { Unit } from '../../shared/design/recipe'
import { editRecipeOnce, endStep, redo, undo, useDesign, useHistory } from '../../shared/design/store'
import { useEvaluations, useTrouble } from '../../shared/evaluation/store'
import { Bar } from '../../shared/fields/Bar'
import { Segments } from '../../shared/fields/Segments'
import { useView } from '../../shared/view/view'
import { FinderButton } from './Finder'
import { SaveNote } from './SaveNote'
import { saveSvg, useSavingFile } from './saving'
import { showVersions, useVersions } from './Versions'

const UNITS = [
  { value: 'mm', label: 'mm' },
  { value: 'in', label: 'in' },
] as const

/** `order`: that of which the design is a row. */
export const TopBar = memo(function TopBar({ order }: { order: string | null }) {
  const name = useDesign((s) => s.name)
  const called = useEvaluations((s) => s.evaluation?.called ?? 'Untitled')
  const unit = useDesign((s) => s.recipe.unit)
  useEffect(() => {
    document.title = `${name || called} – Fulgen`
  }, [name, called])
  const rename = useDesign((s) => s.rename)
  const versions = useVersions((s) => s.open)
  const { stage, setStage } = useView()
  const canUndo = useHistory((h) => h.pastStates.length > 0)
  const canRedo = useHistory((h) => h.futureStates.length > 0)
  return (
    <Bar>
      <Input
        aria-label="Name of the design"
        value={name}
        onChange={(e) => rename(e.target.value)}
        onBlur={endStep}
        maxLength={120}
        size="sm"
        width="260px"
        minWidth="90px"
        ml="3"
        fontWeight="600"
        fontSize="md"
        borderColor="transparent"
        _hover={{ borderColor: 'rule' }}
        placeholder={called}
        _placeholder={{ color: 'ink' }}
      />
      <SaveNote />
      {order && (
        <Button asChild size="sm" variant="outline">
          <Link to={`/order/${order}`}>
            <ArrowLeft size={16} /> To its order
          </Link>
        </Button>
      )}
      <Flex flex="1" />
      {order === null && <MakeOrder />}
      <FinderButton />
      <Segments<Unit>
        label="Unit"
        value={unit}
        options={UNITS}
        onChange={(chosen) => {
          editRecipeOnce({ unit: chosen })
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
      <IconButton
        aria-label="Versions"
        title="Versions: what the design was before"
        size="sm"
        variant="outline"
        aria-pressed={versions}
        bg={versions ? 'ink' : undefined}
        color={versions ? 'card' : undefined}
        onClick={() => {
          if (stage === 'cut') setStage('letter')
          showVersions(!versions)
        }}
      >
        <History size={17} />
      </IconButton>
      <SaveSvg />
    </Bar>
  )
})

/** A list of names becomes cut sheets, each made as this design is. */
function MakeOrder() {
  const design = useDesign((s) => s.id)
  const navigate = useNavigate()
  const making = useMutation({
    mutationFn: async () => {
      await whenSaved()
      return answer(api.POST('/api/orders', { body: { design } }))
    },
    onSuccess: ({ id }) => navigate(`/order/${id}`),
    onError: (error) => useSavingFile.setState({ problem: asProblem(error) }),
  })
  return (
    <IconButton
      aria-label="Make an order of it"
      title="Make an order of it: a list of names, each made as this design is"
      size="sm"
      variant="outline"
      loading={making.isPending}
      onClick={() => making.mutate()}
    >
      <ListOrdered size={17} />
    </IconButton>
  )
}

function SaveSvg() {
  const trouble = useTrouble()
  const ready = useEvaluations((s) => s.evaluation !== undefined && s.troubles.length === 0)
  // In the Cut stage the knife is the next thing, and files have a section of their own.
  const quiet = useView((s) => s.stage === 'cut')
  const saving = useSavingFile((s) => s.busy)
  return (
    <Button
      onClick={() => saveSvg()}
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
