// How papers are set. All that stands on them comes as data (paper.json, written by core's `document/paper.rs`), so that nothing in
// a text is ever read as anything but a text.
#let paper = json("/paper.json")
#let ink = rgb("#23261f")
#let quiet = rgb("#5f6356")
#let hair = rgb("#c9c6b8")
#let red = rgb("#9c2b22")
#let sans = ("Papers Sans", "Libertinus Serif", "New Computer Modern", "DejaVu Sans Mono")
#let serif = ("Papers Serif", "Libertinus Serif", "New Computer Modern", "DejaVu Sans Mono")

#set document(title: paper.title, date: none)
#set text(font: sans, size: 9.5pt, fill: ink, lang: "en", number-width: "tabular")
#set par(leading: 0.55em, spacing: 0.9em)
#set block(spacing: 0pt)

#let sizes = (smaller: 8pt, larger: 12.5pt)
#let sides = (left: left, middle: center, right: right)
#let if-some(value, otherwise) = if value == none { otherwise } else { value }

#let looked(look, body) = {
  let set-in = body
  if look.word != "" { set-in = [#text(weight: 700, look.word) #set-in] }
  if look.struck { set-in = strike(set-in) }
  if look.italic { set-in = emph(set-in) }
  if look.bold { set-in = text(weight: 700, set-in) }
  if look.ink != none { set-in = text(fill: rgb(look.ink), set-in) }
  set-in
}

// Texts keep the lines in which they were written.
#let lines-of(words) = words.split("\n").join(linebreak())

#let runs(all) = for run in all {
  if run.typed and paper.marks {
    underline(stroke: 1pt + red, offset: 2.5pt, lines-of(run.text))
  } else { lines-of(run.text) }
}

#let heading-block(it, set-in) = {
  let size = if set-in.size == "larger" { 21pt } else if set-in.size == "smaller" { 13pt } else { 17pt }
  let words = {
    if it.team and paper.team != "" {
      block(below: if paper.words == "" { 2.2mm } else { 1.6mm }, text(size: 8.5pt, fill: quiet, paper.team))
      if paper.words != "" { block(below: 2.6mm, text(size: 7.5pt, fill: quiet, lines-of(paper.words))) }
    }
    heading(level: 1, text(font: serif, size: size, weight: 600, runs(it.text)))
  }
  if it.team and paper.mark != none {
    grid(columns: (1fr, auto), align: (left + bottom, right + bottom), gutter: 6mm, words, image("/files/" + str(paper.mark), height: 13mm, alt: paper.team))
  } else { words }
}

#let by-hand(width) = box(width: width, height: 1.1em, stroke: (bottom: 0.5pt + ink))

#let facts-block(it) = grid(
  columns: (auto, 1fr),
  column-gutter: 5mm,
  row-gutter: 2.4mm,
  ..it.facts.map(fact => (
    text(size: 8.5pt, fill: quiet, fact.words),
    if fact.blank { by-hand(32mm) } else if fact.look.fill != none {
      box(fill: rgb(fact.look.fill), outset: (x: 1mm, y: 0.8mm), looked(fact.look, lines-of(fact.text)))
    } else { looked(fact.look, lines-of(fact.text)) },
  )).flatten(),
)

#let lines-block(it) = {
  // What says most takes the room that is left.
  let longest(place) = calc.max(0, ..it.rows.slice(0, calc.min(it.rows.len(), 200)).map(row => row.cells.at(place).text.len()))
  let texts = range(it.columns.len()).filter(place => not it.columns.at(place).right)
  let widest = texts.sorted(key: place => -longest(place)).at(0, default: none)
  let widths = range(it.columns.len()).map(place => if place == widest { 1fr } else { auto })
  let sides = it.columns.map(column => if column.right { right } else { left })
  let under = if it.ruled { (bottom: 0.4pt + hair) } else { (:) }
  let head = it.columns.map(column => table.cell(stroke: (bottom: 0.7pt + ink), text(size: 8.5pt, fill: quiet, column.name)))
  let rows = it.rows.map(row => row.cells.map(cell => table.cell(
    stroke: under,
    fill: if cell.look.fill == none { none } else { rgb(cell.look.fill) },
    looked(cell.look, lines-of(cell.text)),
  ))).flatten()
  // Each figure stands beneath its column, its words in what is free before it.
  let totals = it.totals.map(total => {
    let at = if-some(total.column, it.columns.len() - 1)
    let after = it.columns.len() - at - 1
    let words = text(size: 8.5pt, fill: quiet, total.words)
    let rest = if after > 0 { (table.cell(colspan: after)[],) } else { () }
    if at == 0 {
      (table.cell([#words #h(2mm) #text(weight: 700, total.text)]), ..rest)
    } else {
      (table.cell(colspan: at, align: right, words), table.cell(align: right, text(weight: 700, total.text)), ..rest)
    }
  }).flatten()
  table(
    columns: widths,
    align: sides,
    stroke: none,
    inset: (x, y) => (left: if x == 0 { 0.6mm } else { 2.4mm }, right: if x == widths.len() - 1 { 0.6mm } else { 2.4mm }, y: 1.9mm),
    table.header(repeat: it.again, ..head),
    ..rows,
    ..totals,
  )
}

#let sums-block(it) = {
  let last = it.facts.len() - 1
  align(right, grid(
    columns: (auto, auto),
    align: right,
    column-gutter: 7mm,
    inset: (y: 1.1mm),
    ..it.facts.enumerate().map(((place, fact)) => {
      let comes-to = it.total and place == last
      let set-in(body) = if comes-to { text(weight: 700, size: 10.5pt, body) } else { body }
      let over = if comes-to { grid.hline(stroke: 0.7pt + ink) }
      (
        ..if over == none { () } else { (over,) },
        set-in(if comes-to { fact.words } else { text(size: 8.5pt, fill: quiet, fact.words) }),
        set-in(looked(fact.look, fact.text)),
      )
    }).flatten(),
  ))
}

#let signature-block(it) = block(width: 100%, breakable: false, {
  block(height: 11mm, width: 100%, align(left + bottom, if it.signed and it.name != "" {
    pad(bottom: 1.4mm, text(font: serif, style: "italic", weight: 400, size: 15pt, fill: rgb("#23305a"), it.name))
  }))
  line(length: 100%, stroke: 0.6pt + ink)
  v(2mm)
  if it.name != "" { block(it.name) }
  if it.words != "" { v(1.8mm) ; block(text(size: 8.5pt, fill: quiet, it.words)) }
})

#let picture-block(it) = {
  let file = paper.files.at(it.file)
  if file.at("sets", default: true) {
    image("/files/" + str(it.file), height: it.height * 1mm, fit: "contain", alt: file.name)
  } else {
    block(stroke: 0.5pt + hair, inset: 3mm, text(size: 8.5pt, fill: quiet)[#file.name can’t be set.])
  }
}

#let body-of(it) = {
  let shows = it.shows
  if shows.as == "heading" { heading-block(shows, it) }
  else if shows.as == "text" { par(runs(shows.text)) }
  else if shows.as == "facts" { facts-block(shows) }
  else if shows.as == "lines" { lines-block(shows) }
  else if shows.as == "sums" { sums-block(shows) }
  else if shows.as == "picture" { picture-block(shows) }
  else if shows.as == "signature" { signature-block(shows) }
  else if shows.as == "rule" { line(length: 100%, stroke: 0.7pt + ink) }
  else if shows.as == "space" { v(shows.height * 1mm) }
}

#let block-of(it) = {
  let edges = (:)
  if it.above { edges.insert("top", 0.7pt + ink) }
  if it.below { edges.insert("bottom", 0.7pt + ink) }
  let inset = (top: if it.above { 2.5mm } else { 0mm }, bottom: if it.below { 2.5mm } else { 0mm })
  let whole = it.together or it.shows.as in ("facts", "sums", "signature", "heading")
  block(width: 100%, breakable: not whole, stroke: edges, inset: inset, {
    if paper.marks { layout(size => [#metadata((it.number, size.width.mm())) <from>]) }
    set text(size: sizes.at(it.size)) if it.size != none and it.shows.as != "heading"
    set text(weight: 700) if it.bold
    set text(fill: rgb(it.colour)) if it.colour != none
    set align(sides.at(it.align))
    body-of(it)
    if paper.marks [#metadata(it.number) <to>]
  })
}

#let foot-of(sheet, number) = context {
  let end = label("end-" + str(number))
  set text(size: 7.5pt, fill: quiet)
  grid(
    columns: (1fr, auto), gutter: 6mm,
    sheet.foot,
    if sheet.pages [#counter(page).get().first() of #counter(page).at(end).first()],
  )
}

#for (number, sheet) in paper.sheets.enumerate() {
  page(
    width: paper.width * 0.1mm,
    height: paper.height * 0.1mm,
    margin: (x: paper.margin * 1mm, top: paper.margin * 1mm, bottom: calc.max(paper.margin, 14) * 1mm),
    footer-descent: 35%,
    footer: foot-of(sheet, number),
    {
      counter(page).update(1)
      let parts = ()
      for (place, row) in sheet.rows.enumerate() {
        let breaks = row.any(it => it.shows.as == "break")
        let shown = row.filter(it => it.shows.as != "break")
        if breaks { pagebreak(weak: true) }
        if shown.len() == 0 { continue }
        if place > 0 and not breaks { v(if shown.all(it => it.shows.as == "space") { 0mm } else { 5.5mm }, weak: true) }
        if shown.len() == 1 { block-of(shown.first()) } else {
          grid(columns: (1fr,) * shown.len(), column-gutter: 8mm, ..shown.map(block-of))
        }
      }
      [#metadata(number) #label("end-" + str(number))]
    },
  )
}
