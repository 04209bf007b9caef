import {
  AllCommunityModule,
  ModuleRegistry,
  themeQuartz,
  type CellKeyDownEvent,
  type ColDef,
  type GridApi,
  type RowSelectionOptions,
} from 'ag-grid-community'
import { AgGridReact } from 'ag-grid-react'
import Papa from 'papaparse'
import { useCallback, useEffect, useMemo, useRef, type ClipboardEvent } from 'react'
import type { Id } from '../../core/model'
import type { Column, Register } from '../../core/notation'
import { pasteCells } from '../../core/tabular'
import { copyText } from '../clipboard'
import { carryOut, wish } from '../store/changes'
import { select } from '../store/shown'
import { useParts, useWorkspace } from '../store/state'
import { ChoiceEditor } from './ChoiceEditor'
import { ChipCell } from './Chips'
import { useReckoned } from './reckoned'

ModuleRegistry.registerModules([AllCommunityModule])

const theme = themeQuartz.withParams({
  backgroundColor: 'var(--color-base-100)',
  foregroundColor: 'var(--color-base-content)',
  borderColor: 'var(--color-hairline)',
  accentColor: 'var(--color-primary)',
  headerBackgroundColor: 'var(--color-base-100)',
  headerTextColor: 'var(--color-quiet)',
  headerFontWeight: 400,
  headerFontSize: 11,
  selectedRowBackgroundColor: 'var(--color-wash)',
  rowHoverColor: 'color-mix(in srgb, var(--color-wash) 50%, transparent)',
  fontFamily: 'inherit',
  fontSize: 12,
  rowHeight: 26,
  headerHeight: 26,
  cellHorizontalPadding: 10,
  columnBorder: false,
  headerColumnBorder: false,
  headerColumnResizeHandleColor: 'transparent',
  wrapperBorder: false,
  wrapperBorderRadius: 0,
  borderRadius: 3,
  oddRowBackgroundColor: 'transparent',
})

interface Row {
  readonly id: Id
}

const SELECTION: RowSelectionOptions = {
  mode: 'multiRow',
  checkboxes: false,
  headerCheckbox: false,
  enableClickSelection: true,
}

/** A register as a table with a spreadsheet's keyboard. Cells are read from the facts when they are shown, and written through the column. */
export function Grid({ register, filter }: { register: Register; filter: string }) {
  const { model, day, selection } = useParts('model', 'day', 'selection')
  const view = useWorkspace((state) => (state.viewId === undefined ? undefined : state.model.views.get(state.viewId)))
  const grid = useRef<GridApi<Row> | undefined>(undefined)
  const rows = useRef(new Map<Id, Row>())

  const rowData = useMemo(() => {
    if (!view) return []
    return register.rows(model, view, day).map((id) => {
      const row = rows.current.get(id) ?? { id }
      rows.current.set(id, row)
      return row
    })
  }, [register, model, view, day])

  const reckoned = useReckoned(register, view, day)
  const latest = useRef(reckoned)
  const columns = useMemo(
    () => register.columns.map((column) => definition(column, (row) => latest.current.of(column, row))),
    [register],
  )

  // Values are computed from the facts, so all cells in view are read again when these change.
  useEffect(() => {
    grid.current?.refreshCells({ force: true })
  }, [model, day])

  // What is reckoned comes a moment later.
  useEffect(() => {
    latest.current = reckoned
    if (grid.current) readAgain(grid.current, register)
  }, [reckoned, register])

  const scene = useWorkspace((state) => state.scene)
  const tied = useMemo(() => {
    const facts = new Set<Id>(selection)
    for (const item of scene?.items ?? [])
      if (item.facts.some((fact) => selection.includes(fact))) for (const fact of item.facts) facts.add(fact)
    return facts
  }, [selection, scene])
  const syncing = useRef(false)
  const showSelection = useCallback(() => {
    const api = grid.current
    if (!api) return
    syncing.current = true
    let first: Row | undefined
    api.forEachNode((node) => {
      const wanted = node.data !== undefined && tied.has(node.data.id)
      if (wanted) first ??= node.data
      if (node.isSelected() !== wanted) node.setSelected(wanted)
    })
    syncing.current = false
    const node = first && api.getRowNode(first.id)
    if (node && document.activeElement?.closest('.ag-root') === null) api.ensureNodeVisible(node, 'middle')
  }, [tied])
  useEffect(showSelection, [showSelection, rowData])

  const onPaste = (event: ClipboardEvent) => {
    const api = grid.current
    const at = api?.getFocusedCell()
    const asked = wish()
    if (!api || !at || !asked || api.getEditingCells().length > 0) return
    event.preventDefault()
    const text = event.clipboardData.getData('text/plain').replace(/\r?\n$/, '')
    const { data: cells } = Papa.parse<string[]>(text, { delimiter: '\t' })
    const shown: Id[] = []
    api.forEachNodeAfterFilterAndSort((node) => node.data && shown.push(node.data.id))
    const order = api.getAllDisplayedColumns().map((column) => column.getColId())
    const listed = order.flatMap((id) => register.columns.find((column) => column.id === id) ?? [])
    carryOut(
      pasteCells(
        asked,
        register,
        { rows: shown, columns: listed, row: at.rowIndex, column: order.indexOf(at.column.getColId()) },
        cells,
      ),
    )
  }

  const onCellKeyDown = ({ event, column, node, api }: CellKeyDownEvent<Row>) => {
    if (!(event instanceof KeyboardEvent) || api.getEditingCells().length > 0) return
    const written = register.columns.find(({ id }) => id === column.getColId())
    const asked = wish()
    if ((event.key === 'Delete' || event.key === 'Backspace') && written?.write && asked && node.data) {
      event.preventDefault()
      event.stopPropagation()
      carryOut(written.write(asked, node.data.id, ''))
    }
    if ((event.ctrlKey || event.metaKey) && event.key === 'c') copy(api, column.getColId())
  }

  const copy = (api: GridApi<Row>, focused: string) => {
    const { model: now, day: shownDay } = useWorkspace.getState()
    const chosen = api.getSelectedNodes().flatMap(({ data }) => data ?? [])
    const at = api.getFocusedCell()
    const current = at && api.getDisplayedRowAtIndex(at.rowIndex)?.data
    const read = (column: Column, row: Row) =>
      String(column.read(now, row.id, shownDay) ?? latest.current.of(column, row.id) ?? '')
    const cells =
      chosen.length > 1
        ? chosen.map((row) => register.columns.map((column) => read(column, row)))
        : register.columns.filter(({ id }) => id === focused).map((column) => (current ? [read(column, current)] : []))
    void copyText(
      Papa.unparse(cells, { delimiter: '\t', newline: '\n' }),
      chosen.length > 1 ? `${chosen.length} rows copied.` : 'Cell copied.',
    )
  }

  return (
    <div className="min-h-0 flex-1" data-testid={`register-${register.id}`} onPaste={onPaste}>
      <AgGridReact<Row>
        theme={theme}
        rowData={rowData}
        columnDefs={columns}
        getRowId={({ data }) => data.id}
        quickFilterText={filter}
        rowSelection={SELECTION}
        stopEditingWhenCellsLoseFocus
        enterNavigatesVerticallyAfterEdit
        suppressDragLeaveHidesColumns
        animateRows={false}
        scrollbarWidth={9}
        overlayNoRowsTemplate="<span>No rows yet.</span>"
        onGridReady={({ api }) => {
          grid.current = api
          // It has drawn its rows before it says so, and what is reckoned may have come between.
          readAgain(api, register)
          showSelection()
        }}
        onCellKeyDown={(event) => 'column' in event && onCellKeyDown(event as CellKeyDownEvent<Row>)}
        onSelectionChanged={({ api, source }) => {
          if (syncing.current || source === 'api' || source === 'rowDataChanged') return
          select(
            api.getSelectedNodes().flatMap(({ data }) => data?.id ?? []),
            { reveal: true },
          )
        }}
        onCellFocused={({ rowIndex, api }) => {
          const row = rowIndex === null ? undefined : api.getDisplayedRowAtIndex(rowIndex)?.data
          if (row && api.getSelectedNodes().length <= 1 && !syncing.current) select([row.id], { reveal: true })
        }}
      />
    </div>
  )
}

/** Reads what is reckoned again, and nothing else: what somebody is about to click on stays where it is. */
function readAgain(api: GridApi<Row>, { columns }: Register): void {
  const reckoned = columns.filter(({ isReckoned }) => isReckoned).map(({ id }) => id)
  if (reckoned.length === 0) return
  api.refreshCells({ force: true, columns: reckoned })
  // Rows that are sorted or found by it take their places; while somebody types they stay where they are.
  const places =
    api.isQuickFilterPresent() || api.getColumnState().some(({ colId, sort }) => sort && reckoned.includes(colId))
  if (places && api.getEditingCells().length === 0) api.refreshClientSideRowModel('filter')
}

/** The grid asks for values when it draws: they come from the facts as they are then. */
function definition(column: Column, reckoned: (row: Id) => string | number | undefined): ColDef<Row> {
  const { write } = column
  return {
    colId: column.id,
    headerName: column.label,
    width: column.width,
    resizable: true,
    sortable: true,
    editable: write !== undefined,
    cellClass: column.mono ? 'numeric' : '',
    cellDataType: false,
    ...(column.type === 'number' ? { type: 'rightAligned' } : {}),
    valueGetter: ({ data }) => {
      const { model, day } = useWorkspace.getState()
      return data && (column.read(model, data.id, day) ?? reckoned(data.id))
    },
    cellClassRules: { 'text-warning': ({ value }) => typeof value === 'string' && column.wants?.(value) === true },
    ...(column.chips ? { cellRenderer: ChipCell, cellRendererParams: { chips: column.chips } } : {}),
    ...(column.choices ? { cellEditor: ChoiceEditor, cellEditorParams: { choices: column.choices } } : {}),
    valueSetter: ({ data, newValue }) => {
      const asked = wish()
      if (asked && write) carryOut(write(asked, data.id, String(newValue ?? '')))
      // The facts have changed, not the row: the grid reads again when the model does.
      return false
    },
  }
}
