// Any document, printed from its pieces (wainscot_core.documents.paper). Everything that is said
// comes as data: no word of it is read as markup.
#let document-data = json(bytes(sys.inputs.document))
#let ink = rgb("#2b2a27")
#let soft = rgb("#5d584f")
#let line-color = rgb("#b9ad97")
#let madder = rgb("#9a3131")

#set document(title: document-data.title, author: document-data.aside.first(), date: none)
#set page(
  paper: "a4",
  margin: (x: 18mm, top: 16mm, bottom: 18mm),
  footer: context [
    #set text(8pt, fill: soft)
    #grid(columns: (1fr, auto), document-data.title + ", " + document-data.aside.last(),
      counter(page).display("1 of 1", both: true))
  ],
)
#let size = if document-data.kind in ("owner", "change") { 11.5pt } else { 10.5pt }
#set text(font: ("Wainscot Sans", "Libertinus Serif"), size: size, fill: ink, lang: "en", hyphenate: false)
#set par(leading: 0.55em, spacing: 0.8em)
#show heading: set text(font: ("Literata", "Libertinus Serif"), weight: 600)
#show heading.where(level: 1): set text(20pt)
#show heading.where(level: 2): set text(12pt)
#show heading.where(level: 2): set block(above: 1.3em, below: 0.6em)

#let words(item) = {
  if item.lead != "" [#strong(item.lead) ]
  item.text
}

#let rows(item) = {
  let titles = item.columns.map(c => c.title)
  let side(i) = if item.columns.at(i).figures { right } else { left }
  let titled = titles.any(t => t != "")
  let first = if titled { 1.5fr } else { 0.5fr }
  // A column without a title is as wide as its words; what is told of the rest has the room.
  let narrow(i) = item.columns.at(i).figures or (titled and i > 0 and titles.at(i) == "")
  let width(i) = if narrow(i) { auto } else if i == 0 { first } else { 1fr }
  let box-of = if item.ticks { (auto,) } else { () }
  let shift = box-of.len()
  let tick = box(width: 9pt, height: 9pt, stroke: 0.8pt + ink)
  // What is ticked off is read across a kitchen.
  let cells(row) = if item.ticks { (tick, strong(row.first()), text(1.15em, strong(row.at(1))), ..row.slice(2)) } else { row }
  let heads(row) = if item.ticks { ([], ..row.map(strong)) } else { row.map(strong) }
  table(
    columns: (..box-of, ..range(titles.len()).map(width)),
    align: (x, y) => (if x < shift { left } else { side(x - shift) }) + top,
    inset: (x, y) => (left: if x == 0 { 0pt } else { 6pt }, right: 6pt, y: 3.6pt),
    stroke: (x, y) => (bottom: 0.4pt + line-color),
    ..if titled {
      (table.header(..heads(titles).map(t => table.cell(stroke: (bottom: 0.8pt + ink), t))),)
    },
    ..item.rows.map(cells).flatten(),
    ..item.total.map(strong),
  )
}

// The wall: boards in its own units, as wide as the page.
#let wall(item) = layout(size => {
  let u = calc.min(size.width / item.width, 1.6pt)
  let hatch = tiling(size: (2.4pt, 2.4pt))[
    #place(rect(width: 100%, height: 100%, fill: rgb("#ecdfc6")))
    #place(line(start: (0%, 100%), end: (100%, 0%), stroke: 0.7pt + rgb("#543b20")))
  ]
  block(width: item.width * u, height: 146 * u, breakable: false, {
    for b in item.boards {
      place(dx: b.x * u, rect(width: 10 * u, height: 100 * u, fill: rgb("#ede8de")))
      if b.height > 0 {
        place(dx: b.x * u, dy: (1 - b.height) * 100 * u, rect(
          width: 10 * u, height: b.height * 100 * u,
          fill: if b.unproven { white } else if b.breaks { hatch } else { rgb("#94703d") },
          stroke: if b.unproven { (paint: ink, thickness: 0.5pt, dash: "dashed") } else { none },
        ))
      }
      if b.rail { place(dx: b.x * u, dy: 49.5 * u, rect(width: 10 * u, height: 1 * u, fill: ink)) }
      if b.cornice { place(dx: b.x * u, dy: 11.2 * u, rect(width: 10 * u, height: 1.6 * u, fill: ink)) }
      place(dx: b.x * u + 1 * u, dy: 102 * u, rotate(90deg, origin: top + left, reflow: true, text(7 * u, b.label)))
    }
  })
})

#let piece(item) = {
  if item.form == "words" { par(words(item)) }
  else if item.form == "boards" { wall(item) }
  else if item.form == "points" and item.numbered { enum(..item.items.map(words)) }
  else if item.form == "points" { list(marker: [•], ..item.items.map(words)) }
  else { rows(item) }
}

#grid(
  columns: (1fr, auto), column-gutter: 10mm, align: (left + bottom, right + bottom),
  heading(level: 1, document-data.title),
  text(9.5pt, fill: soft, document-data.aside.join(linebreak())),
)
#v(-0.2em)
#line(length: 100%, stroke: 1.4pt + ink)

#let long(section) = section.blocks.any(b => b.form == "table" and b.rows.len() > 14)

#for section in document-data.sections {
  let inside = {
    if section.title != "" { heading(level: 2, section.title) }
    section.blocks.map(piece).join()
  }
  if section.tone == "decide" {
    block(stroke: (left: 2.5pt + madder), inset: (left: 9pt, y: 2pt), inside)
  } else if section.tone == "box" {
    block(stroke: 0.8pt + ink, inset: 8pt, width: 100%, breakable: long(section), inside)
  } else if document-data.kind == "owner" {
    // Nothing that is read while cooking is torn apart, but a table that is longer than half a page.
    block(width: 100%, breakable: long(section), inside)
  } else { inside }
}

#v(0.6em)
#line(length: 100%, stroke: 0.8pt + ink)
#for item in document-data.foot { par(words(item)) }
#for item in document-data.fine { par(text(8.5pt, fill: soft, item)) }
