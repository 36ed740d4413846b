// Labels on a sheet, in millimetres and without scaling. All that is said comes as data: none of it is read as markup.
#let data = json(bytes(sys.inputs.labels))
#let sheet = data.sheet
#let ink = rgb("#000000")
#set page(paper: sheet.paper, margin: 0mm)
#set text(font: ("Wainscot Sans", "Libertinus Serif"), fill: ink, size: 8pt, lang: "en", hyphenate: false)
#set par(leading: 0.42em, spacing: 0.5em)
#let per = sheet.across * sheet.down
#let code = image(bytes(data.qr), format: "svg", width: 100%)

#let head(label, small) = {
  text(if small { 8pt } else { 11pt }, weight: 700, label.dog)
  if label.loud != "" { linebreak(); text(8pt, weight: 700, upper(label.loud)) }
  for (i, line) in label.head.enumerate() {
    linebreak()
    text(8pt, weight: if i == 0 { 700 } else { 400 }, line)
  }
}

#let one(label) = {
  let small = label.lines.len() == 0
  let side = if small { calc.min(sheet.height * 0.58 * 1mm, 14mm) } else { calc.min(sheet.height * 0.4 * 1mm, 22mm) }
  let top = grid(columns: (1fr, side), gutter: 1mm, head(label, small), box(width: side, height: side, code))
  // As many of the lines as there is room for: none is cut through.
  let made(count) = {
    top
    for line in label.lines.slice(0, count) { block(above: 1mm, below: 0mm, text(8pt, line)) }
  }
  let wide = sheet.width * 1mm - 4mm
  let high = sheet.height * 1mm - 3mm
  context {
    let fits = range(label.lines.len() + 1).filter(n => measure(block(width: wide, made(n))).height <= high)
    block(inset: (x: 2mm, y: 1.5mm), width: 100%, height: 100%, clip: true, made(if fits.len() > 0 { fits.last() } else { 0 }))
  }
}

#let places = range(data.first).map(_ => none) + data.labels
#for (i, label) in places.enumerate() {
  if calc.rem(i, per) == 0 and i > 0 { pagebreak() }
  if label != none {
    let at = calc.rem(i, per)
    let col = calc.rem(at, sheet.across)
    let row = calc.quo(at, sheet.across)
    place(top + left, dx: (sheet.left + col * sheet.step_x) * 1mm, dy: (sheet.top + row * sheet.step_y) * 1mm,
      box(width: sheet.width * 1mm, height: sheet.height * 1mm, one(label)))
  }
}
