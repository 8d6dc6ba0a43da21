//! What a packet tells: made when the plan is issued, and printed from what was kept then.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use time::Date;
use uuid::Uuid;
use windrift_core::floor::hang::hang;
use windrift_core::floor::hang::words::Hang;
use windrift_core::floor::lay_down::lay_down;
use windrift_core::floor::verdict::{Verdict, verdict};
use windrift_core::ground::said::plainly;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::landing::Landing;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_core::plan::readings::Readings;
use windrift_core::plan::top_hinge::TopHinge;
use windrift_core::plan::worked::Worked;

use crate::marking_report::MarkingPaper;
use crate::picture::SidePicture;
use crate::sheet::Heading;
use crate::stroke_sheet::StrokesPaper;

/// One line of the record, in words.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RecordLine {
    /// Number in the record.
    pub seq: i64,
    /// When, printed.
    pub at: String,
    /// Who.
    pub who: String,
    /// What.
    pub what: String,
    /// The piece that it is about.
    pub piece: Option<Uuid>,
}

/// One side in the packet. Made when the plan is issued, and printed from what was kept then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PacketSide {
    /// What the side is called here.
    pub name: String,
    /// What the edge is called from which the tape runs: `front edge`.
    pub zero_edge: String,
    /// How it is drawn.
    pub picture: SidePicture,
    /// Figures of its shape that nobody has measured yet, in words.
    #[serde(default)]
    pub unmeasured: Vec<String>,
    /// Its pieces with their figures.
    pub pieces: Vec<PacketPiece>,
    /// Its reflective marking with the audit, where it has one.
    #[serde(default)]
    pub marking: Option<MarkingPaper>,
}

/// The figures of one piece in the packet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PacketPiece {
    /// The piece.
    pub id: Uuid,
    /// What it is called.
    pub called: String,
    /// Its rule as it is said. Empty in plans of earlier releases.
    #[serde(default)]
    pub rule: String,
    /// What it is made as, as it is said: of a stripe, a kit piece, a print. Empty in plans of earlier releases.
    #[serde(default)]
    pub made_as: Vec<String>,
    /// What it is read from.
    pub reference: String,
    /// Where the tape is held for each flat, in the picture frame, mm.
    pub held_at: [[f64; 2]; 2],
    /// Whether it has letters.
    pub has_letters: bool,
    /// Its readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// What it meets, and how that is worked, where it is a print.
    pub worked: Vec<Worked>,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// How it is hung: the hinge that was chosen, with its own tape and cuts. Nothing in plans of earlier releases.
    #[serde(default)]
    pub hung: Option<Hung>,
    /// Its strokes. Nothing in plans of earlier releases, nor where the surface says no.
    #[serde(default)]
    pub strokes: Option<StrokesPaper>,
}

/// A run of heat or of sealer on paper.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HeatLine {
    /// The piece.
    pub piece: Uuid,
    /// What the run is called.
    pub name: String,
    /// How long it is.
    pub length: String,
    /// What was wanted of it, and how far it is known to have come.
    pub says: String,
}

/// A hinge as it is told on paper.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Hung {
    /// What it is called: `top hinge`, `liner window`.
    pub name: String,
    /// Why it is used, the crew's own words first.
    pub why: Vec<String>,
    /// The film that it is worked out for.
    pub film: String,
    /// Tape: what it is, its corners in the picture frame, its length as printed.
    pub tape: Vec<(String, [[f64; 2]; 4], String)>,
    /// Liner cuts and stay tape: what it is, in a sentence, and both ends in the picture frame.
    pub lines: Vec<(String, [[f64; 2]; 2])>,
    /// Sections: what is in each, and how wide it is.
    pub sections: Vec<(String, String)>,
    /// All tape.
    pub total: String,
    /// What is done, in order.
    pub steps: Vec<String>,
    /// What is wrong or must be known; what the surface says against it first.
    pub troubles: Vec<String>,
}

impl Hung {
    fn of(hang: Hang, verdict: Verdict) -> Hung {
        let refused = verdict.refusals.into_iter().map(|r| r.sentence);
        let gone_on = verdict
            .overruled
            .map(|why| format!("Gone on all the same: {why}"));
        let used = hang.ranked.iter().find(|r| r.kind == hang.kind);
        let own = hang
            .own_reason
            .as_ref()
            .map(|why| format!("The crew's own choice: {why}"));
        Hung {
            name: hang.kind.name().to_owned(),
            why: own
                .into_iter()
                .chain(used.into_iter().flat_map(|r| r.reasons.clone()))
                .collect(),
            film: hang.film.name.to_owned(),
            tape: (hang.tape.iter())
                .map(|t| (t.what.to_owned(), t.corners, t.length.text.clone()))
                .collect(),
            lines: (hang.liner.iter().chain(&hang.stay))
                .map(|l| (l.sentence.clone(), l.line))
                .collect(),
            sections: (hang.sections.iter())
                .map(|s| (s.called.clone(), s.width.text.clone()))
                .collect(),
            total: hang.total.text,
            steps: hang.steps,
            troubles: refused.chain(gone_on).chain(hang.troubles).collect(),
        }
    }
}

impl PacketSide {
    /// Photos that are printed on its pieces.
    pub fn photos(&self) -> impl Iterator<Item = Uuid> + '_ {
        let printed = self.picture.pieces.iter().filter_map(|p| p.printed);
        printed.map(|(photo, _)| photo)
    }

    /// A side as it is planned today.
    pub fn of(plan: &SidePlan, settings: &WorkSettings, today: Date, unit: Unit) -> PacketSide {
        let words = settings.side_words;
        let side = &plan.side.side;
        let fresh = side.surface.paint_is_fresh(today);
        let piece = |p: &PlannedPiece| {
            let hang = hang(p, &plan.side, settings, fresh, unit);
            let verdict = verdict(p, &plan.side, today);
            // Where the surface says no and nobody has answered for it, no stroke is told.
            let strokes = (verdict.stops().is_none())
                .then(|| StrokesPaper::of(&lay_down(p, &plan.side, &hang, settings, unit)));
            PacketPiece {
                id: p.id,
                called: p.piece.called(),
                rule: plainly(&p.said),
                made_as: p.art_said.iter().map(|said| plainly(said)).collect(),
                reference: side.datum_name(p.piece.place.reference()).to_owned(),
                held_at: [&p.readings.flats.front, &p.readings.flats.rear].map(|flat| {
                    let top = p.placed.datum.at(flat.back_mm, 0.0);
                    [top.x, top.y]
                }),
                has_letters: p.drawn.has_letters,
                readings: p.readings.clone(),
                landing: p.landing.clone(),
                worked: p.worked.clone(),
                hinge: p.hinge.clone(),
                hung: Some(Hung::of(hang, verdict)),
                strokes,
            }
        };
        PacketSide {
            name: side.name(words),
            zero_edge: side.edge_names(words).zero,
            picture: SidePicture::of(plan),
            unmeasured: side.unmeasured_names(),
            pieces: plan.pieces.iter().map(piece).collect(),
            marking: None,
        }
    }
}

/// A photo that stands in the record.
#[derive(Debug, Clone, PartialEq)]
pub struct PhotoLine {
    /// Its key among the packet's photos.
    pub photo: Uuid,
    /// The entry that it stands in: number, when, who, what.
    pub says: String,
}

/// Everything that a packet shows.
pub struct Packet {
    /// The shop.
    pub shop: String,
    /// The job.
    pub title: String,
    /// Whom it is for.
    pub customer: String,
    /// `Plan 2, issued 24 Nov 2026 14:05 UTC by …`
    pub issued: String,
    /// `Printed 2 Dec 2026 08:10 UTC`
    pub printed: String,
    /// The time zone whose clock the record's hours are told by: `UTC`.
    pub clock: String,
    /// SHA-256 of what the plan froze, hexadecimal.
    pub plan_hash: String,
    /// Sides with work on them.
    pub sides: Vec<PacketSide>,
    /// Photos that are printed on what is shown, JPEG.
    pub photos: BTreeMap<Uuid, Vec<u8>>,
    /// The record up to the plan, oldest first.
    pub record: Vec<RecordLine>,
    /// What was recorded since.
    pub since: Vec<RecordLine>,
    /// What must reach its temperature and what is sealed, as it stands at the hour of printing.
    pub heat: Vec<HeatLine>,
    /// Photos of the record, oldest first.
    pub photographed: Vec<PhotoLine>,
    /// What is said at the foot of their pages: how many there are, and how many of them are printed.
    pub photos_foot: String,
    /// Number of the newest entry of the record, 0 where there is none.
    pub latest_entry: i64,
    /// Hash of that entry, hexadecimal.
    pub latest_hash: String,
}

impl Packet {
    pub(super) fn heading(&self) -> Heading<'_> {
        Heading {
            title: &self.title,
            shop: &self.shop,
            customer: &self.customer,
            issued: &self.issued,
        }
    }
}
