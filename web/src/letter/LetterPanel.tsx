import { Box, Flex, Text, Textarea } from '@chakra-ui/react'
import { memo, type ReactNode, useEffect, useRef, useState } from 'react'
import type { Problem } from '../api/client'
import { useSaveState } from '../design/autosave'
import { endStep, useDesign, usePart } from '../design/store'
import { Segments } from '../parts/Segments'
import { ConflictNote } from '../workbench/ConflictNote'
import { FaceButton } from './FaceButton'
import { FacePicker } from './FacePicker'
import { FilmField } from './FilmField'
import { PanelProblem } from './PanelProblem'
import { SizeFields } from './SizeFields'
import { SpacingFields } from './SpacingFields'

interface Props {
  problem: Problem | null
  /** Why a file could not be saved. */
  fileProblem: Problem | null
}

/** The Letter stage: words, face, size, spacing and film. */
export const LetterPanel = memo(function LetterPanel({ problem, fileProblem }: Props) {
  const [picking, setPicking] = useState(false)
  if (picking)
    return (
      <Panel wide>
        <FacePicker onDone={() => setPicking(false)} />
      </Panel>
    )
  return (
    <Panel>
      <Box overflowY="auto" flex="1" minHeight="0">
        <Notes problem={problem} fileProblem={fileProblem} />
        <Section title="Words">
          <PartChoice />
          <Words />
        </Section>
        <Section title="Face">
          <FaceButton onOpen={() => setPicking(true)} />
        </Section>
        <Section title="Size">
          <SizeFields />
        </Section>
        <Section title="Spacing">
          <SpacingFields />
        </Section>
        <Section title="Film">
          <FilmField />
        </Section>
      </Box>
    </Panel>
  )
})

function Panel({ wide, children }: { wide?: boolean; children: ReactNode }) {
  return (
    <Flex
      as="aside"
      aria-label="Letter"
      direction="column"
      width={wide ? 'picker' : 'panel'}
      flexShrink="0"
      bg="card"
      borderRightWidth="1px"
      borderColor="rule"
      minHeight="0"
    >
      {children}
    </Flex>
  )
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Flex
      as="section"
      direction="column"
      gap="2.5"
      px="4"
      py="3.5"
      borderBottomWidth="1px"
      borderColor="rule"
    >
      <Text as="h2" fontSize="lg" fontWeight="700" letterSpacing="-0.01em" lineHeight="1.2">
        {title}
      </Text>
      {children}
    </Flex>
  )
}

function Notes({ problem, fileProblem }: Pick<Props, 'problem' | 'fileProblem'>) {
  const save = useSaveState((s) => s.state)
  const blank = usePart((part) => part.text.trim() === '')
  const refused = save.kind === 'refused' ? save.problem : null
  // An empty field is no mistake yet; the work itself says what to do.
  const shown = fileProblem ?? (problem?.kind === 'no-letters' && blank ? null : (problem ?? refused))
  if (!shown && save.kind !== 'conflict') return null
  return (
    <Flex direction="column" gap="2" p="3">
      <ConflictNote />
      {shown && <PanelProblem problem={shown} />}
    </Flex>
  )
}

/** A design with several letterings: which one the panel edits. */
function PartChoice() {
  const parts = useDesign((s) => s.recipe.parts)
  const partId = useDesign((s) => s.partId)
  const choosePart = useDesign((s) => s.choosePart)
  if (parts.length < 2) return null
  const options = parts.map((part, index) => ({
    value: part.id,
    label: part.text.trim().slice(0, 10) || String(index + 1),
  }))
  return <Segments label="Lettering" value={partId} options={options} onChange={choosePart} fill />
}

function Words() {
  const text = usePart((part) => part.text)
  const edit = useDesign((s) => s.edit)
  const id = useDesign((s) => s.id)
  const field = useRef<HTMLTextAreaElement>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each design
  useEffect(() => {
    if (text === '') field.current?.focus()
  }, [id])
  return (
    <Textarea
      ref={field}
      aria-label="Words"
      value={text}
      onChange={(e) => edit({ text: e.target.value })}
      onBlur={endStep}
      placeholder="Type a name"
      rows={Math.min(5, Math.max(2, text.split('\n').length))}
      fontSize="xl"
      lineHeight="1.35"
      px="3"
      bg="card"
      borderColor="edge"
      resize="none"
      spellCheck={false}
      autoComplete="off"
    />
  )
}
