//! A rule for a place as it is said.

use uuid::Uuid;

use crate::ground::said::{Said, Saying, offered};
use crate::ground::tape::Unit;
use crate::place::between::edges;
use crate::place::edges::{EdgePart, EdgeRef, LevelPart, LevelRef};
use crate::place::rules::{
    AheadBehind, Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules, UpDown,
};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::EdgeNames;

/// What things are called where the rule stands.
pub struct Names<'a> {
    /// The side.
    pub side: &'a MeasuredSide,
    /// Its edges.
    pub edges: &'a EdgeNames,
    /// What another piece of the job is called.
    pub piece: &'a dyn Fn(Uuid) -> String,
    /// Whether the piece is letters.
    pub lettered: bool,
    /// The job's unit.
    pub unit: Unit,
}

/// What an end of a piece is called.
pub fn end_name(to: LetterEnd, lettered: bool) -> &'static str {
    match (to, lettered) {
        (LetterEnd::FirstLetter, true) => "its first letter",
        (LetterEnd::LastLetter, true) => "its last letter",
        (LetterEnd::FirstLetter, false) => "its left end",
        (LetterEnd::LastLetter, false) => "its right end",
    }
}

/// What a height of a piece is called.
pub fn height_name(to: DownTo, lettered: bool) -> &'static str {
    match (to, lettered) {
        (DownTo::CapLine, true) => "its cap line",
        (DownTo::CapLine, false) => "its upper edge",
        (DownTo::Baseline, true) => "its baseline",
        (DownTo::Baseline, false) => "its lower edge",
        (DownTo::Middle, _) => "its middle",
        (DownTo::Top, _) => "the top of its film",
        (DownTo::Foot, _) => "the foot of its film",
    }
}

impl Names<'_> {
    fn part(&self, source: (Uuid, u32)) -> Option<&str> {
        let side = self.side;
        side.lines
            .iter()
            .find(|l| l.source == source)
            .map(|l| l.name.as_str())
            .or_else(|| {
                side.areas
                    .iter()
                    .find(|a| a.source == source)
                    .map(|a| a.name.as_str())
            })
    }

    fn edge(&self, edge: &EdgeRef) -> String {
        match *edge {
            EdgeRef::FrontEdge => self.edges.zero.clone(),
            EdgeRef::RearEdge => self.edges.far.clone(),
            EdgeRef::Feature {
                feature,
                number,
                part,
            } => {
                let name = self
                    .part((feature, number))
                    .unwrap_or("something that is gone");
                match part {
                    EdgePart::Front => format!("{name}, front"),
                    EdgePart::Middle => name.to_owned(),
                    EdgePart::Rear => format!("{name}, rear"),
                }
            }
        }
    }

    fn level(&self, level: &LevelRef) -> String {
        match *level {
            LevelRef::UpperEdge => self.edges.upper.clone(),
            LevelRef::LowerEdge => self.edges.lower.clone(),
            LevelRef::Feature {
                feature,
                number,
                part,
            } => {
                let name = self
                    .part((feature, number))
                    .unwrap_or("something that is gone");
                match part {
                    LevelPart::Top => format!("{name}, top"),
                    LevelPart::Middle => name.to_owned(),
                    LevelPart::Foot => format!("{name}, foot"),
                }
            }
        }
    }
}

/// A sentence under way.
struct Sentence<'a> {
    names: &'a Names<'a>,
    saying: Saying,
}

impl Sentence<'_> {
    fn words(&mut self, text: &str) {
        self.saying.words(text);
    }

    /// The screen has its own word for each field: it depends on what else is chosen.
    fn length(&mut self, at: &str, mm: f64) {
        self.saying.length(at, mm, "");
    }

    fn choice(&mut self, at: &str, text: impl Into<String>) {
        self.saying.choice(at, text);
    }

    fn between(&mut self, from: (&str, String), to: (&str, String)) {
        self.words("between the");
        self.choice(from.0, from.1);
        self.words("and the");
        self.choice(to.0, to.1);
    }

    /// An edge of film that stays, out of those that are there.
    fn film_edge(&mut self, at: &str, label: &str, feature: Uuid) {
        let mut all: Vec<(String, String)> = edges(self.names.side)
            .map(|l| (l.source.0.to_string(), l.name.clone()))
            .collect();
        let own = feature.to_string();
        // One that is gone stands there too, so that it is seen which is.
        if !all.iter().any(|(id, _)| *id == own) {
            all.push((own.clone(), "one that is gone".to_owned()));
        }
        self.saying.one_of(at, own, label, offered(all));
    }

    fn down(&mut self, rules: &Rules, datum: &str) {
        let lettered = self.names.lettered;
        self.words("It");
        match &rules.down {
            Down::FromDatum { distance_mm, to } => {
                self.choice("/place/down", "hangs");
                self.length("/place/down/distance_mm", distance_mm.mm());
                self.words("below the");
                self.choice("/place/reference", datum);
                self.words("to");
                self.choice("/place/down/to", height_name(*to, lettered));
            }
            Down::FromHeight {
                height,
                distance_mm,
                way,
                to,
            } => {
                self.choice("/place/down", "stands");
                self.length("/place/down/distance_mm", distance_mm.mm());
                self.choice("/place/down/way", up_down(*way));
                self.words("the");
                self.choice("/place/down/height", self.names.level(height));
                self.words("to");
                self.choice("/place/down/to", height_name(*to, lettered));
            }
            Down::Centred { from, to } => {
                self.choice("/place/down", "sits midway");
                let (from, to) = (self.names.level(from), self.names.level(to));
                self.between(("/place/down/from", from), ("/place/down/to", to));
            }
            Down::NextTo { piece, gap_mm, way } => {
                self.choice("/place/down", "goes");
                self.length("/place/down/gap_mm", gap_mm.mm());
                self.choice("/place/down/way", up_down(*way));
                self.choice("/place/down/piece", quoted(&(self.names.piece)(*piece)));
            }
        }
        self.words(",");
    }

    fn along(&mut self, rules: &Rules) {
        let lettered = self.names.lettered;
        match &rules.along {
            Along::FromFront { distance_mm, to } => {
                self.length("/place/along/distance_mm", distance_mm.mm());
                self.choice(
                    "/place/along",
                    format!("back from the {}", self.names.edges.zero),
                );
                self.words("to");
                self.choice("/place/along/to", end_name(*to, lettered));
            }
            Along::FromEdge {
                edge,
                distance_mm,
                way,
            } => {
                self.length("/place/along/distance_mm", distance_mm.mm());
                self.choice("/place/along", "clear");
                self.choice("/place/along/way", ahead_behind(*way));
                self.words("the");
                self.choice("/place/along/edge", self.names.edge(edge));
            }
            Along::Centred { from, to } => {
                self.choice("/place/along", "centred");
                let (from, to) = (self.names.edge(from), self.names.edge(to));
                self.between(("/place/along/from", from), ("/place/along/to", to));
            }
            Along::Beside { piece, gap_mm, way } => {
                self.length("/place/along/gap_mm", gap_mm.mm());
                self.choice("/place/along", "beside another,");
                self.choice("/place/along/way", ahead_behind(*way));
                self.choice("/place/along/piece", quoted(&(self.names.piece)(*piece)));
            }
            Along::EqualGaps {
                from,
                to,
                row,
                number,
            } => {
                self.words("number");
                self.saying.count("/place/along/number", *number, "");
                self.words("of the row");
                self.choice("/place/along/row", quoted(row));
                self.choice("/place/along", "with equal gaps");
                let (from, to) = (self.names.edge(from), self.names.edge(to));
                self.between(("/place/along/from", from), ("/place/along/to", to));
            }
            Along::SameGap { from, to, gap_mm } => {
                self.length("/place/along/gap_mm", gap_mm.mm());
                self.choice("/place/along", "short at both ends");
                let (from, to) = (self.names.edge(from), self.names.edge(to));
                self.between(("/place/along/from", from), ("/place/along/to", to));
            }
        }
        self.words(",");
    }

    fn angle(&mut self, rules: &Rules, datum: &str) {
        match rules.angle {
            Angle::AlongDatum => self.choice("/place/angle", format!("along the {datum}")),
            Angle::Level => self.choice("/place/angle", "level with the ground"),
            Angle::Degrees { degrees } => {
                self.choice("/place/angle", "turned");
                self.saying.number("/place/angle/degrees", degrees, "");
                self.words("degrees, rear end down");
            }
            Angle::AlongLine { feature, number } => {
                self.choice("/place/angle", "along a line, the");
                let name = self
                    .names
                    .part((feature, number))
                    .unwrap_or("one that is gone")
                    .to_owned();
                self.choice("/place/angle/line", name);
            }
            Angle::ToDrop { rear_drop_mm } => {
                self.choice("/place/angle", "falling to");
                self.length("/place/angle/rear_drop_mm", rear_drop_mm.mm());
                self.words("at its rear end");
            }
        }
        self.words(".");
    }
}

fn up_down(way: UpDown) -> &'static str {
    match way {
        UpDown::Above => "above",
        UpDown::Below => "below",
    }
}

fn ahead_behind(way: AheadBehind) -> &'static str {
    match way {
        AheadBehind::Ahead => "ahead of",
        AheadBehind::Behind => "behind",
    }
}

fn quoted(name: &str) -> String {
    format!("\u{201c}{name}\u{201d}")
}

/// Says a rule for a place.
pub fn said(place: &PlaceRule, names: &Names<'_>) -> Vec<Said> {
    let mut sentence = Sentence {
        names,
        saying: Saying::new(names.unit),
    };
    match place {
        PlaceRule::Rules(rules) => {
            let datum = names.side.side.datum_name(rules.reference).to_owned();
            sentence.down(rules, &datum);
            sentence.along(rules);
            sentence.angle(rules, &datum);
        }
        PlaceRule::Points { points, .. } => {
            sentence.words(&format!(
                "It is fitted to {} points measured on the body.",
                points.len()
            ));
        }
        PlaceRule::Between {
            front,
            rear,
            lap_mm,
        } => {
            sentence.words("It is fitted between the");
            sentence.film_edge("/place/front", "Between the edge", *front);
            sentence.words("and the");
            sentence.film_edge("/place/rear", "And the edge", *rear);
            sentence.words(", lapping over each by");
            sentence
                .saying
                .length("/place/lap_mm", lap_mm.mm(), "Laps over each edge by");
            sentence.words(if lap_mm.mm() == 0.0 {
                ", edge to edge."
            } else {
                "."
            });
        }
        PlaceRule::Mirrored { .. } => {
            sentence.words(&format!(
                "It lies as far from the {} and the {} as its twin on the other side, and follows it.",
                names.edges.zero,
                names.side.side.datum_name(None)
            ));
        }
        PlaceRule::Marks { of } => {
            sentence.words("It is laid on the marks of");
            sentence.choice("/place/of", quoted(&(names.piece)(*of)));
            sentence.words(".");
        }
    }
    sentence.saying.done()
}
