//! One drawing, three outputs: SVG, PDF (selectable text, embedded subset fonts, tags) and PNG, at true size.

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

/// Pages drawn at true size, under one title.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Print {
    /// What it is: it stands in a PDF's head and in a reader's window.
    pub title: String,
    /// Each as an SVG of its own, as large as it says.
    pub pages: Vec<String>,
}

/// What a document is put out as.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// One drawing, its typefaces inside; of several pages one below the other.
    Svg,
    /// All pages, text selectable.
    Pdf,
    /// One picture with its resolution; of several pages one below the other.
    Png,
}

/// Dots an inch of a picture.
pub const PICTURE_DPI: f32 = 300.0;

impl Kind {
    /// By a file's ending.
    #[must_use]
    pub fn of(ending: &str) -> Option<Self> {
        match ending {
            "svg" => Some(Self::Svg),
            "pdf" => Some(Self::Pdf),
            "png" => Some(Self::Png),
            _ => None,
        }
    }

    /// As HTTP names it.
    #[must_use]
    pub fn media_type(self) -> &'static str {
        match self {
            Self::Svg => "image/svg+xml",
            Self::Pdf => "application/pdf",
            Self::Png => "image/png",
        }
    }
}

impl Print {
    /// Of one page.
    #[must_use]
    pub fn single(title: impl Into<String>, page: String) -> Self {
        Self { title: title.into(), pages: vec![page] }
    }

    /// Puts it out.
    ///
    /// # Errors
    /// [`DrawError`] where a drawing is not well formed, or there is none.
    pub fn put_out(&self, kind: Kind) -> Result<Vec<u8>, DrawError> {
        match kind {
            Kind::Pdf => pdf(&self.pages, &self.title),
            Kind::Svg => Ok(self_contained(&self.in_one()?).into_bytes()),
            Kind::Png => png(&self.in_one()?, PICTURE_DPI),
        }
    }

    /// All pages below one another.
    fn in_one(&self) -> Result<String, DrawError> {
        if let [page] = self.pages.as_slice() {
            return Ok(page.clone());
        }
        let sizes = self.pages.iter().map(|page| parse(page).map(|tree| tree.size())).collect::<Result<Vec<_>, _>>()?;
        let wide = sizes.iter().map(|size| size.width()).fold(0.0, f32::max);
        let high: f32 = sizes.iter().map(|size| size.height()).sum();
        // In the pixels that an inch of a page inside is taken for.
        let mut out = format!(
            r#"<svg xmlns="http://www.w3.org/2000/svg" width="{}in" height="{}in" viewBox="0 0 {wide} {high}"><title>{}</title>"#,
            wide / DPI,
            high / DPI,
            escape(&self.title)
        );
        let mut y = 0.0;
        for (page, size) in self.pages.iter().zip(&sizes) {
            out += &page.replacen("<svg ", &format!("<svg y=\"{y}\" "), 1);
            y += size.height();
        }
        Ok(out + "</svg>")
    }
}

/// Each page as large as its drawing says. Tagged: a page is a figure whose text stands beside it for readers that speak, and the
/// language is told. (ISO 32000-1, 14.7 to 14.9, from memory)
fn pdf(pages: &[String], title: &str) -> Result<Vec<u8>, DrawError> {
    use pdf_writer::types::StructRole;
    use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref, TextStr};
    let mut next = Ref::new(1);
    let (catalog, tree, info) = (next.bump(), next.bump(), next.bump());
    let (tags, document) = (next.bump(), next.bump());
    let mut out = Pdf::new();
    let mut head = out.catalog(catalog);
    head.pages(tree).lang(TextStr("en"));
    head.mark_info().marked(true);
    head.viewer_preferences().display_doc_title(true);
    head.pair(Name(b"StructTreeRoot"), tags);
    head.finish();
    out.document_info(info).title(TextStr(title)).producer(TextStr("Wayfinder"));
    let (mut kids, mut figures) = (Vec::new(), Vec::new());
    for (nth, (svg, drawn)) in pages.iter().zip(drawn_at_once(pages)).enumerate() {
        let Drawn { size, chunk, root } = drawn?;
        let mut renumbered = std::collections::HashMap::new();
        let chunk = chunk.renumber(|old| *renumbered.entry(old).or_insert_with(|| next.bump()));
        let drawing = renumbered.get(&root).copied().ok_or_else(|| DrawError::Pdf("a page has no drawing".into()))?;
        let (page, content, figure) = (next.bump(), next.bump(), next.bump());
        kids.push(page);
        figures.push(figure);
        let points = |length: f32| length * 72.0 / DPI;
        let (width, height) = (points(size.width()), points(size.height()));
        let mut written = out.page(page);
        written.media_box(Rect::new(0.0, 0.0, width, height)).parent(tree).contents(content);
        written.struct_parents(nth as i32);
        written.resources().x_objects().pair(Name(b"S"), drawing);
        written.finish();
        let mut marks = Content::new();
        marks.begin_marked_content_with_properties(Name(b"Figure")).properties().identify(0);
        // The drawing is one unit wide and high, whatever its size.
        marks.transform([width, 0.0, 0.0, height, 0.0, 0.0]).x_object(Name(b"S"));
        marks.end_marked_content();
        out.stream(content, &marks.finish());
        out.extend(&chunk);
        let mut element = out.struct_element(figure);
        element.kind(StructRole::Figure).parent(document).page(page).alt(TextStr(&words(svg)));
        element.marked_content_child().page(page).marked_content_id(0);
    }
    let mut whole = out.struct_element(document);
    whole.kind(StructRole::Document).parent(tags);
    let mut children = whole.children();
    for figure in &figures {
        children.struct_element(*figure);
    }
    children.finish();
    whole.finish();
    let mut root = out.indirect(tags).start::<pdf_writer::writers::StructTreeRoot<'_>>();
    root.child(document);
    let mut parents = root.parent_tree();
    let mut numbers = parents.nums();
    let lists: Vec<(i32, Ref)> = figures.iter().enumerate().map(|(nth, _)| (nth as i32, next.bump())).collect();
    for (key, list) in &lists {
        numbers.insert(*key, *list);
    }
    numbers.finish();
    parents.finish();
    root.finish();
    for ((_, list), figure) in lists.iter().zip(&figures) {
        out.indirect(*list).array().item(*figure);
    }
    out.pages(tree).count(i32::try_from(kids.len()).unwrap_or(i32::MAX)).kids(kids);
    Ok(out.finish())
}

/// A page as it goes into a document.
struct Drawn {
    size: usvg::Size,
    chunk: pdf_writer::Chunk,
    root: pdf_writer::Ref,
}

/// Pages have nothing to do with one another, and setting their letters takes nearly all the time: each on a
/// thread of its own, as many at once as there are processors.
fn drawn_at_once(pages: &[String]) -> Vec<Result<Drawn, DrawError>> {
    let draw = |svg: &str| {
        let drawn = parse(svg)?;
        let options = svg2pdf::ConversionOptions { embed_text: true, ..svg2pdf::ConversionOptions::default() };
        let (chunk, root) = svg2pdf::to_chunk(&drawn, options).map_err(|e| DrawError::Pdf(format!("{e:?}")))?;
        Ok(Drawn { size: drawn.size(), chunk, root })
    };
    let died = || DrawError::Pdf("a page could not be drawn".into());
    let at_once = std::thread::available_parallelism().map_or(1, std::num::NonZero::get);
    let some = |pages: &[String]| {
        std::thread::scope(|scope| {
            let threads: Vec<_> = pages.iter().map(|page| scope.spawn(move || draw(page))).collect();
            threads.into_iter().map(|thread| thread.join().unwrap_or_else(|_| Err(died()))).collect::<Vec<_>>()
        })
    };
    pages.chunks(at_once).flat_map(some).collect()
}

/// All text of a drawing, in the order in which it stands there.
fn words(svg: &str) -> String {
    let Ok(document) = usvg::roxmltree::Document::parse(svg) else { return String::new() };
    let texts = document.descendants().filter(|node| node.has_tag_name((SVG, "text")));
    let said = texts.flat_map(|text| text.descendants().filter_map(|node| node.text().filter(|_| node.is_text())));
    said.collect::<Vec<_>>().join(" ")
}

/// The names of drawings.
const SVG: &str = "http://www.w3.org/2000/svg";

/// A picture at `dpi` dots an inch on white, which stand in it.
fn png(svg: &str, dpi: f32) -> Result<Vec<u8>, DrawError> {
    use resvg::tiny_skia::{Color, Pixmap, Transform};
    let failed = |e: png::EncodingError| DrawError::Png(e.to_string());
    let tree = parse(svg)?;
    let scale = dpi / DPI;
    let pixels = |length: f32| (length * scale).round() as u32;
    let (width, height) = (pixels(tree.size().width()), pixels(tree.size().height()));
    if u64::from(width) * u64::from(height) > MOST_PIXELS {
        return Err(DrawError::Png(format!("it would have {width} x {height} dots: a PDF tells the same")));
    }
    let mut picture = Pixmap::new(width, height).ok_or_else(|| DrawError::Png("it has no size".into()))?;
    picture.fill(Color::WHITE);
    resvg::render(&tree, Transform::from_scale(scale, scale), &mut picture.as_mut());
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, width, height);
    encoder.set_color(png::ColorType::Rgba);
    let per_metre = (f64::from(dpi) / 0.0254).round() as u32;
    let unit = png::Unit::Meter;
    encoder.set_pixel_dims(Some(png::PixelDimensions { xppu: per_metre, yppu: per_metre, unit }));
    let mut writer = encoder.write_header().map_err(failed)?;
    // On white nothing shines through: what is stored is what is seen.
    writer.write_image_data(picture.data()).map_err(failed)?;
    writer.finish().map_err(failed)?;
    Ok(bytes)
}

/// A sheet of 34 by 44 in at 150 dots an inch, about: more takes gigabytes.
const MOST_PIXELS: u64 = 36_000_000;

/// The drawing with its typefaces inside, of each the letters that it uses, so that it looks the same wherever it is opened.
#[must_use]
pub fn self_contained(svg: &str) -> String {
    let letters: std::collections::BTreeSet<char> = svg.chars().filter(|c| !c.is_control()).collect();
    let face = |family: &str, style: &str, used: bool, data: &[u8]| {
        let data = if used { with_letters(data, &letters) } else { return String::new() };
        let data = base64::engine::general_purpose::STANDARD.encode(data);
        format!("@font-face{{font-family:'{family}';{style}src:url(data:font/ttf;base64,{data})}}")
    };
    let style = [
        face("Overpass", "", true, REGULAR),
        face("Overpass", "font-weight:700;", svg.contains("font-weight=\"700\""), BOLD),
        face("Overpass", "font-style:italic;", svg.contains("font-style=\"italic\""), ITALIC),
        face("Overpass Mono", "", svg.contains("Overpass Mono"), MONO),
    ];
    svg.replacen('>', &format!("><style>{}</style>", style.concat()), 1)
}

/// A typeface with these letters alone; whole where it cannot be made smaller.
fn with_letters(font: &[u8], letters: &std::collections::BTreeSet<char>) -> Vec<u8> {
    use allsorts::binary::read::ReadScope;
    use allsorts::font::read_cmap_subtable;
    use allsorts::font_data::FontData;
    use allsorts::subset::{CmapTarget, SubsetProfile, subset};
    use allsorts::tables::FontTableProvider;
    use allsorts::tables::cmap::Cmap;
    let smaller = || -> Option<Vec<u8>> {
        let provider = ReadScope::new(font).read::<FontData<'_>>().ok()?.table_provider(0).ok()?;
        let table = provider.read_table_data(allsorts::tag::CMAP).ok()?;
        let (_, map) = read_cmap_subtable(&ReadScope::new(&table).read::<Cmap<'_>>().ok()?).ok()??;
        let mut glyphs: Vec<u16> =
            letters.iter().filter_map(|letter| map.map_glyph(*letter as u32).ok().flatten()).collect();
        glyphs.push(0);
        glyphs.sort_unstable();
        glyphs.dedup();
        subset(&provider, &glyphs, &SubsetProfile::Minimal, CmapTarget::Unicode).ok()
    };
    smaller().unwrap_or_else(|| font.to_vec())
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
