//! A print in panels: how many, where the joins are, their files, and the panels as pieces.

use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::into_pieces::into_pieces;
use windrift_core::cut::panels::panels;
use windrift_core::cut::parted::print_gaps;
use windrift_core::ground::tape::print;
use windrift_core::plan::piece::Piece;
use windrift_formats::one_page::PageHeading;
use windrift_formats::panel_files::PanelFile;
use windrift_formats::panel_map::{MappedPanel, PanelMap, panel_map};
use windrift_formats::print_art::{ArtKind, PrintArt};
use windrift_store::StoreError;
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, check_pieces, make_all, require_room};
use crate::file::{File, paper_of};
use crate::floor::Floor;
use crate::keys::for_whom;
use crate::nests::{longest_of, panel_ask, print_width, rolls_of};
use crate::problem::Problem;
use crate::request::Caller;
use crate::routes::Answer;
use crate::views::{Coarse, PanelsView};

/// A print in panels: on the widest roll of its film, or on one so wide.
#[utoipa::path(get, path = "/api/pieces/{id}/panels", params(("id" = Uuid, Path), ("width_mm" = Option<f64>, Query, description = "Width of the roll, mm")), responses((status = 200, body = PanelsView), (status = 422, body = Problem)))]
#[get("/pieces/<id>/panels?<width_mm>")]
pub async fn piece_panels(desk: &Desk, id: &str, width_mm: Option<f64>) -> Answer<PanelsView> {
    let floor = Floor::of(desk, id).await?;
    let chosen = floor.piece().piece.work.chosen.clone();
    let rolls = match &chosen {
        Some(c) => rolls_of(desk, c.id).await?,
        None => Vec::new(),
    };
    if width_mm.is_some_and(|w| !(w.is_finite() && (10.0..=3000.0).contains(&w))) {
        return Err(Problem::input(
            "panels",
            "A roll is between 10 mm and 3 m wide. Give another width.",
        ));
    }
    let ways = floor.ways.clone();
    let view = desk.compute(move || {
        let unit = floor.unit;
        let mut widths: Vec<f64> = rolls.iter().map(|r| r.roll.width_mm.mm()).collect();
        widths.sort_by(|a, b| b.total_cmp(a));
        widths.dedup();
        let width = width_mm.unwrap_or_else(|| print_width(&rolls));
        let planned = floor.piece();
        let ask = panel_ask(planned, width, longest_of(&rolls), &ways);
        let own_lap = chosen
            .as_ref()
            .is_some_and(|c| c.film.sheet.lap_mm.is_some());
        let found = panels(planned, &floor.plan().side, &ask, unit)
            .map_err(|e| Problem::input("panels", e.to_string()))?;
        Ok::<_, Problem>(PanelsView {
            roll: print(width, unit),
            printable: print(ask.printable_mm.mm(), unit),
            widths: widths.into_iter().map(|w| print(w, unit)).collect(),
            lap: print(ask.lap_mm.mm(), unit),
            coarse: match &planned.piece.art {
                Art::Panel(print) => print.pixels_per_inch().map(|ppi| Coarse {
                    told: format!("{ppi:.0} pixels to the inch at full size"),
                    too_coarse: ppi < ways.least_ppi,
                    least: ways.least_ppi,
                }),
                _ => None,
            },
            lap_from: if own_lap {
                "its data sheet"
            } else {
                "usual for its class (common practice, no source)"
            },
            gaps: print_gaps(planned, &floor.plan().side),
            panels: found,
        })
    });
    Ok(Json(view.await??))
}

/// Makes a print into its panels: each a piece of its own where it lay, in the order in which they go on. Undone in one go. If-Match is the
/// print's revision.
#[utoipa::path(post, path = "/api/pieces/{id}/into-panels", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/pieces/<id>/into-panels")]
pub async fn into_panels(desk: &Desk, caller: Caller, id: &str) -> Editing {
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let seen = caller.seen()?;
    let floor = Floor::of(desk, id).await?;
    let view = piece_panels(desk, id, None).await?.into_inner();
    let (rows, own) = (floor.rows.clone(), floor.piece().id);
    let panels = desk
        .compute(move || {
            into_pieces(
                floor.piece(),
                &view.panels.best,
                &floor.plan().side,
                &floor.ways.settings,
                floor.unit,
            )
        })
        .await?
        .map_err(|e| Problem::input("into_panels", e.to_string()))?;
    require_room(
        rows.pieces.len() + panels.len() - 1,
        RowKind::Piece.most() + 1,
        "pieces on this side",
    )?;
    let named: Vec<(Uuid, Piece)> = panels.into_iter().map(|p| (Uuid::now_v7(), p)).collect();
    check_pieces(desk, &rows, named.clone()).await?;
    let mut changes = vec![(RowKind::Piece, own, Change::Remove { seen })];
    for (id, piece) in named {
        let spec = Kind::Piece.write(&piece)?;
        let parent = rows.side.id;
        changes.push((RowKind::Piece, id, Change::Add { parent, spec }));
    }
    make_all(desk, &caller, changes).await
}

/// A panel with everything that its file shows.
struct PanelOf {
    name: String,
    number: (u32, u32),
    panel: kurbo::Rect,
    trim: kurbo::Rect,
    laps: Vec<kurbo::Rect>,
    colour: String,
    picture: Option<(Uuid, kurbo::Rect)>,
    told: String,
}

/// One panel of a print at full size, `svg` or `pdf`, with lap, bleed, registration marks and its number outside the trim.
#[utoipa::path(get, path = "/api/pieces/{id}/panels/{number}/{kind}", params(("id" = Uuid, Path), ("number" = u32, Path), ("kind" = String, Path, description = "`svg` or `pdf`"), ("width_mm" = Option<f64>, Query, description = "Width of the roll, mm")), responses((status = 200, content_type = "image/svg+xml"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/pieces/<id>/panels/<number>/<kind>?<width_mm>")]
pub async fn panel_file(
    desk: &Desk,
    id: &str,
    number: u32,
    kind: &str,
    width_mm: Option<f64>,
) -> Result<File, Problem> {
    let floor = Floor::of(desk, id).await?;
    let view = piece_panels(desk, id, width_mm).await?.into_inner();
    let best = &view.panels.best;
    let planned = floor.piece();
    let (Some(panel), Art::Panel(art)) = (
        best.panels.iter().find(|p| p.number == number),
        &planned.piece.art,
    ) else {
        return Err(StoreError::NotFound("panel").into());
    };
    let front_left = floor.plan().side.side.direction() > 0.0;
    let of = |[x0, y0, x1, y1]: [f64; 4]| kurbo::Rect::new(x0, y0, x1, y1);
    let laps = best
        .joins
        .iter()
        .filter(|j| j.under == number || j.under + 1 == number);
    let made = PanelOf {
        name: planned.piece.called(),
        number: (number, best.panels.len() as u32),
        panel: of(panel.film),
        // In a gap at which the print is parted the trim is its middle.
        trim: (best
            .parts
            .iter()
            .find(|p| (p.numbers.0..=p.numbers.1).contains(&number)))
        .map_or(art.trim(front_left), |p| {
            art.trim(front_left).intersect(of(p.trimmed))
        }),
        laps: laps.map(|j| of(j.film)).collect(),
        colour: art.colour.clone(),
        picture: planned.drawn.picture,
        told: format!("Roll {} wide, lap {}.", view.roll.text, view.lap.text),
    };
    let art = match made.picture {
        Some((photo, _)) => Some(art_of(desk, photo).await?),
        None => None,
    };
    let pdf = match kind {
        "svg" => false,
        "pdf" => true,
        _ => return Err(StoreError::NotFound("file").into()),
    };
    let name = format!("{} panel {number}", made.name);
    let bytes = desk.compute(move || {
        let file = PanelFile {
            name: &made.name,
            number: made.number,
            panel: made.panel,
            trim: made.trim,
            laps: &made.laps,
            colour: &made.colour,
            picture: made.picture.and_then(|(_, filled)| {
                let (kind, bytes) = art.as_ref()?;
                let (kind, bytes) = (*kind, bytes.as_slice());
                Some((PrintArt { kind, bytes }, filled))
            }),
            told: &made.told,
        };
        if pdf {
            file.pdf()
                .map_err(|e| Problem::input("panel_file", e.to_string()))
        } else {
            file.svg()
                .map(String::into_bytes)
                .map_err(|e| Problem::input("panel_file", e.to_string()))
        }
    });
    let (content, ending) = if pdf {
        (ContentType::PDF, "pdf")
    } else {
        (ContentType::SVG, "svg")
    };
    Ok(File::new(bytes.await??, content, &name, ending))
}

/// What a picture is printed from: its file as it was given, else what is kept of the photo.
async fn art_of(desk: &Desk, photo: Uuid) -> Result<(ArtKind, Vec<u8>), Problem> {
    let given = desk.print_art(photo).await?;
    let known = given.and_then(|art| Some((ArtKind::of_word(&art.kind)?, art.bytes)));
    match known {
        Some(art) => Ok(art),
        None => Ok((ArtKind::Jpeg, desk.photo(photo).await?.jpeg)),
    }
}

/// The panels of a print on one page: where each stands, its number and size, laps, trim, what each join meets.
#[utoipa::path(get, path = "/api/pieces/{id}/panels/map.pdf", params(("id" = Uuid, Path), ("width_mm" = Option<f64>, Query, description = "Width of the roll, mm"), ("paper" = Option<String>, Query, description = "`letter` or `a4`")), responses((status = 200, content_type = "application/pdf"), (status = 422, body = Problem)))]
#[get("/pieces/<id>/panels/map.pdf?<width_mm>&<paper>")]
pub async fn panel_map_file(
    desk: &Desk,
    id: &str,
    width_mm: Option<f64>,
    paper: Option<&str>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let floor = Floor::of(desk, id).await?;
    let view = piece_panels(desk, id, width_mm).await?.into_inner();
    let shop = desk.shop().await?.name;
    let at = floor.ways.zone.stated(time::OffsetDateTime::now_utc());
    let bytes = desk.compute(move || {
        let heading = PageHeading {
            shop: &shop,
            title: &floor.rows.job.title,
            customer: &for_whom(&floor.rows.job),
            at: &at,
        };
        panel_map(&heading, &mapped(&floor, &view), paper)
            .map_err(|e| Problem::input("panel_map", e.to_string()))
    });
    Ok(File::new(
        bytes.await??,
        ContentType::PDF,
        "panel map",
        "pdf",
    ))
}

/// What the map shows.
fn mapped<'a>(floor: &'a Floor, view: &PanelsView) -> PanelMap<'a> {
    let (planned, side) = (floor.piece(), &floor.plan().side.side);
    let best = &view.panels.best;
    let trim = match &planned.piece.art {
        Art::Panel(print) => print.trim(side.direction() > 0.0),
        _ => kurbo::Rect::ZERO,
    };
    // A panel is known in both frames, neither sheared: what lies in one is carried over by it.
    let carried = best.panels.first().map(|p| {
        let ([x0, y0, x1, y1], [a, b, _, d]) = (p.film, p.corners);
        let at = move |x: f64, y: f64| {
            let (u, v) = ((x - x0) / (x1 - x0), (y - y0) / (y1 - y0));
            [0, 1].map(|n| a[n] + u * (b[n] - a[n]) + v * (d[n] - a[n]))
        };
        [
            at(trim.x0, trim.y0),
            at(trim.x1, trim.y0),
            at(trim.x1, trim.y1),
            at(trim.x0, trim.y1),
        ]
    });
    let side_name =
        (side.called.clone()).unwrap_or_else(|| side.kind.name(floor.ways.side_words).to_owned());
    let joins = best.joins.iter().map(|j| {
        let meets = match j.meets.as_slice() {
            [] => "clear.".to_owned(),
            all => all.join(" "),
        };
        format!(
            "{} from {}, panel {} over {}, lap {}: {meets}",
            j.at.text,
            j.from,
            j.under + 1,
            j.under,
            j.lap.text
        )
    });
    let relief = best.panels.iter().flat_map(|p| {
        let number = p.number;
        p.relief
            .iter()
            .map(move |r| format!("Relief cut in panel {number} for {}: {}", r.name, r.told()))
    });
    PanelMap {
        plan: floor.plan(),
        name: format!("{}, {}", planned.piece.called(), side_name),
        panels: (best.panels.iter())
            .map(|p| MappedPanel {
                number: p.number,
                corners: p.corners,
                size: (p.width.text.clone(), p.height.text.clone()),
            })
            .collect(),
        laps: best.joins.iter().map(|j| j.corners).collect(),
        cuts: (best.panels.iter())
            .flat_map(|p| &p.relief)
            .flat_map(|r| r.lines.iter().cloned())
            .collect(),
        trim: carried.unwrap_or_default(),
        // What is cut before anything is hung stands first: it is never what is left out.
        says: relief
            .chain(best.says.iter().cloned())
            .chain(joins)
            .collect(),
    }
}
