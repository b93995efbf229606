//! One drawing, three outputs: SVG text to PDF (selectable text, embedded subset fonts) and PNG, at true size.

use std::sync::{Arc, OnceLock};

use base64::Engine;
use svg2pdf::usvg;
use usvg::fontdb;

/// The typefaces of everything printed. Overpass, SIL Open Font License 1.1.
pub(crate) const REGULAR: &[u8] = include_bytes!("../fonts/Overpass_400Regular.ttf");
pub(crate) const BOLD: &[u8] = include_bytes!("../fonts/Overpass_700Bold.ttf");
pub(crate) const ITALIC: &[u8] = include_bytes!("../fonts/Overpass_400Regular_Italic.ttf");
pub(crate) const MONO: &[u8] = include_bytes!("../fonts/OverpassMono_400Regular.ttf");

/// CSS pixels an inch: `width="4.25in"` is 408 user units, and the same figure here gives 306 pt exactly.
const DPI: f32 = 96.0;

/// Why a drawing could not be put out.
#[derive(Debug, thiserror::Error)]
pub enum DrawError {
    /// The drawing is no SVG that can be read.
    #[error("the drawing cannot be read: {0}")]
    Svg(#[from] usvg::Error),
    /// The PDF could not be made.
    #[error("the PDF could not be made: {0}")]
    Pdf(String),
    /// The picture could not be made.
    #[error("the picture could not be made: {0}")]
    Png(String),
}

pub(crate) fn fonts() -> Arc<fontdb::Database> {
    static FONTS: OnceLock<Arc<fontdb::Database>> = OnceLock::new();
    let load = || {
        let mut db = fontdb::Database::new(); // no system fonts: the same output on every machine
        for font in [REGULAR, BOLD, ITALIC, MONO] {
            db.load_font_data(font.to_vec());
        }
        // Whatever a foreign drawing asks for is one of ours.
        db.set_sans_serif_family("Overpass");
        db.set_serif_family("Overpass");
        db.set_cursive_family("Overpass");
        db.set_fantasy_family("Overpass");
        db.set_monospace_family("Overpass Mono");
        Arc::new(db)
    };
    FONTS.get_or_init(load).clone()
}

fn parse(svg: &str) -> Result<usvg::Tree, DrawError> {
    let options =
        usvg::Options { fontdb: fonts(), font_family: "Overpass".into(), dpi: DPI, ..usvg::Options::default() };
    Ok(usvg::Tree::from_str(svg, &options)?)
}

/// A PDF of one page, exactly as large as the drawing says.
///
/// # Errors
/// [`DrawError`] where the drawing is not well formed.
pub fn pdf(svg: &str) -> Result<Vec<u8>, DrawError> {
    let options = svg2pdf::ConversionOptions { embed_text: true, ..svg2pdf::ConversionOptions::default() };
    svg2pdf::to_pdf(&parse(svg)?, options, svg2pdf::PageOptions { dpi: DPI })
        .map_err(|e| DrawError::Pdf(format!("{e:?}")))
}

/// A PDF of several pages, each as large as its drawing says.
///
/// # Errors
/// [`DrawError`] where a drawing is not well formed.
pub fn pdf_of_pages(pages: &[String], title: &str) -> Result<Vec<u8>, DrawError> {
    use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref, TextStr};
    let mut next = Ref::new(1);
    let (catalog, tree, info) = (next.bump(), next.bump(), next.bump());
    let mut out = Pdf::new();
    out.catalog(catalog).pages(tree);
    out.document_info(info).title(TextStr(title));
    let mut kids = Vec::new();
    for svg in pages {
        let drawn = parse(svg)?;
        let options = svg2pdf::ConversionOptions { embed_text: true, ..svg2pdf::ConversionOptions::default() };
        let (chunk, root) = svg2pdf::to_chunk(&drawn, options).map_err(|e| DrawError::Pdf(format!("{e:?}")))?;
        let mut renumbered = std::collections::HashMap::new();
        let chunk = chunk.renumber(|old| *renumbered.entry(old).or_insert_with(|| next.bump()));
        let drawing = renumbered.get(&root).copied().ok_or_else(|| DrawError::Pdf("a page has no drawing".into()))?;
        let (page, content) = (next.bump(), next.bump());
        kids.push(page);
        let points = |length: f32| length * 72.0 / DPI;
        let (width, height) = (points(drawn.size().width()), points(drawn.size().height()));
        let mut written = out.page(page);
        written.media_box(Rect::new(0.0, 0.0, width, height)).parent(tree).contents(content);
        written.resources().x_objects().pair(Name(b"S"), drawing);
        written.finish();
        let mut marks = Content::new();
        // The drawing is one unit wide and high, whatever its size.
        marks.transform([width, 0.0, 0.0, height, 0.0, 0.0]).x_object(Name(b"S"));
        out.stream(content, &marks.finish());
        out.extend(&chunk);
    }
    out.pages(tree).count(i32::try_from(kids.len()).unwrap_or(i32::MAX)).kids(kids);
    Ok(out.finish())
}

/// A picture at `dpi` dots an inch on white.
///
/// # Errors
/// [`DrawError`] where the drawing is not well formed or the picture would be empty.
pub fn png(svg: &str, dpi: f32) -> Result<Vec<u8>, DrawError> {
    use resvg::tiny_skia::{Color, Pixmap, Transform};
    let tree = parse(svg)?;
    let scale = dpi / DPI;
    let pixels = |length: f32| (length * scale).round() as u32;
    let mut picture = Pixmap::new(pixels(tree.size().width()), pixels(tree.size().height()))
        .ok_or_else(|| DrawError::Png("it has no size".into()))?;
    picture.fill(Color::WHITE);
    resvg::render(&tree, Transform::from_scale(scale, scale), &mut picture.as_mut());
    picture.encode_png().map_err(|e| DrawError::Png(e.to_string()))
}

/// The drawing with its typefaces inside, so that it looks the same wherever it is opened.
#[must_use]
pub fn self_contained(svg: &str) -> String {
    let face = |family: &str, style: &str, data: &[u8]| {
        let data = base64::engine::general_purpose::STANDARD.encode(data);
        format!("@font-face{{font-family:'{family}';{style}src:url(data:font/ttf;base64,{data})}}")
    };
    let style = [
        face("Overpass", "", REGULAR),
        face("Overpass", "font-weight:700;", BOLD),
        face("Overpass", "font-style:italic;", ITALIC),
        face("Overpass Mono", "", MONO),
    ];
    svg.replacen('>', &format!("><style>{}</style>", style.concat()), 1)
}

/// Words in lines of at most so many letters.
pub(crate) fn wrapped(text: &str, letters: usize) -> impl Iterator<Item = String> {
    let mut lines = vec![String::new()];
    for word in text.split_whitespace() {
        let last = lines.len() - 1;
        if !lines[last].is_empty() && lines[last].chars().count() + 1 + word.chars().count() > letters {
            lines.push(word.to_owned());
        } else {
            let gap = if lines[last].is_empty() { "" } else { " " };
            lines[last] = format!("{}{gap}{word}", lines[last]);
        }
    }
    lines.into_iter()
}

/// Text as it may stand in an XML document.
#[must_use]
pub fn escape(text: &str) -> String {
    quick_xml::escape::escape(text).into_owned()
}
