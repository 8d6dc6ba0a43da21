//! How a feature is measured, as it is said.

use serde_json::Value;

use crate::ground::said::{Said, Saying, capital, offered};
use crate::ground::tape::Unit;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, Repeat};
use crate::vehicle::feature::kind::{Details, FeatureClass, FeatureKind};
use crate::vehicle::side::Side;
use crate::vehicle::side::words::EdgeNames;

/// The sentence under way, with what the places on this side are called.
struct Measures<'a> {
    side: &'a Side,
    feature: &'a Feature,
    zero: &'a str,
    saying: Saying,
}

impl Measures<'_> {
    fn datum(&self) -> &str {
        self.side.datum_name(self.feature.reference)
    }

    fn back(&mut self, at: &str, mm: f64, to: &str) {
        let label = format!("{} to {to}", capital(self.zero));
        self.saying.length(at, mm, label);
    }

    /// A distance down, and what it is down from.
    fn down(&mut self, at: &str, mm: f64, to: &str) {
        let label = format!("{} down to {to}", capital(self.datum()));
        self.saying.length(at, mm, label);
        self.saying.words("below the");
        self.reference();
    }

    /// What it is measured from: a word that opens where the side has more than its rail.
    fn reference(&mut self) {
        let references = &self.side.references;
        if references.is_empty() {
            let datum = self.datum().to_owned();
            self.saying.words(&datum);
            return;
        }
        let rail = (Value::Null, self.side.rail.clone());
        let all = std::iter::once(rail).chain(
            references
                .iter()
                .map(|r| (Value::from(r.id.to_string()), r.name.clone())),
        );
        self.saying.one_of(
            "/reference",
            self.feature.reference,
            "Measured from the",
            offered(all),
        );
    }

    /// A place: so far back and so far down.
    fn place(&mut self, fields: [&str; 2], mm: [f64; 2], to: &str) {
        self.back(fields[0], mm[0], to);
        self.saying
            .words(&format!("back from the {} and", self.zero));
        self.down(fields[1], mm[1], to);
    }

    /// How many, and how far from one to the next. The distance can be typed before the count: four at the distance that stands may end
    /// off the side, and would be refused.
    fn repeat(&mut self, repeat: &Repeat) {
        let (pitch, row_pitch) = (repeat.pitch_mm.mm(), repeat.row_pitch_mm.mm());
        self.saying
            .words(",")
            .count("/form/repeat/count", repeat.count, "How many along")
            .words("along, one every")
            .length("/form/repeat/pitch_mm", pitch, "From one to the next")
            .words(", and")
            .count("/form/repeat/rows", repeat.rows, "How many down")
            .words("down, a row every")
            .length("/form/repeat/row_pitch_mm", row_pitch, "From row to row")
            .words(".");
    }

    fn form(&mut self) {
        let (one, many) = self.feature.kind.names();
        match &self.feature.form {
            Form::Heads {
                first_mm,
                pitch_mm,
                columns,
                first_head_mm,
                head_pitch_mm,
                heads,
                head_mm,
            } => {
                self.saying
                    .words("There")
                    .words(if *columns == 1 { "is" } else { "are" })
                    .count("/form/columns", *columns, "How many columns")
                    .words(if *columns == 1 {
                        "column, its middle"
                    } else {
                        "columns, the first"
                    });
                self.back("/form/first_mm", first_mm.mm(), "the first column");
                self.saying.words(&format!("back from the {}", self.zero));
                self.saying.words(", then one every").length(
                    "/form/pitch_mm",
                    pitch_mm.mm(),
                    "Column to column",
                );
                self.saying
                    .words("; in each")
                    .count("/form/heads", *heads, "Heads in a column")
                    .words(if *heads == 1 {
                        "head,"
                    } else {
                        "heads, the first"
                    });
                self.down("/form/first_head_mm", first_head_mm.mm(), "the first head");
                self.saying.words(", then one every").length(
                    "/form/head_pitch_mm",
                    head_pitch_mm.mm(),
                    "Head to head",
                );
                self.saying
                    .words(". A head is")
                    .length("/form/head_mm", head_mm.mm(), "Across a head")
                    .words("across.");
            }
            Form::Upright {
                first_mm,
                pitch_mm,
                count,
            } => {
                self.saying
                    .count("/form/count", *count, "How many")
                    .words(if *count == 1 { one } else { many })
                    .words("over the whole height, the first");
                self.back("/form/first_mm", first_mm.mm(), "the first");
                self.saying
                    .words(&format!("back from the {} along the", self.zero));
                self.reference();
                self.saying
                    .words(", then one every")
                    .length("/form/pitch_mm", pitch_mm.mm(), "From one to the next")
                    .words(".");
            }
            Form::Straight {
                back_mm,
                drop_mm,
                to_back_mm,
                to_drop_mm,
            } => {
                self.saying.words("It runs from");
                let at = ["/form/back_mm", "/form/drop_mm"];
                self.place(at, [back_mm.mm(), drop_mm.mm()], "its beginning");
                self.saying.words("to");
                self.back("/form/to_back_mm", to_back_mm.mm(), "its end");
                self.saying.words("back and");
                let label = format!("{} down to its end", capital(self.datum()));
                self.saying
                    .length("/form/to_drop_mm", to_drop_mm.mm(), label)
                    .words("below it.");
            }
            Form::Path { points, closed } => {
                let what = if *closed { "An outline" } else { "A line" };
                self.saying
                    .words(&format!("{what} by {} readings from the", points.len()));
                self.reference();
                self.saying.words(".");
            }
            Form::Rectangle {
                back_mm,
                drop_mm,
                width_mm,
                height_mm,
                repeat,
                ..
            } => {
                self.saying
                    .words("It is")
                    .length("/form/width_mm", width_mm.mm(), "Width")
                    .words("wide and")
                    .length("/form/height_mm", height_mm.mm(), "Height")
                    .words("high, its");
                self.measured_to();
                let at = ["/form/back_mm", "/form/drop_mm"];
                self.place(at, [back_mm.mm(), drop_mm.mm()], "it");
                self.repeat(repeat);
            }
            Form::Round {
                back_mm,
                drop_mm,
                across_mm,
                repeat,
            } => {
                self.saying
                    .words("It is")
                    .length("/form/across_mm", across_mm.mm(), "Across")
                    .words("across, its middle");
                let at = ["/form/back_mm", "/form/drop_mm"];
                self.place(at, [back_mm.mm(), drop_mm.mm()], "its middle");
                self.repeat(repeat);
            }
            Form::Arch {
                centre_mm,
                width_mm,
                height_mm,
            } => {
                self.saying
                    .words("It is")
                    .length("/form/width_mm", width_mm.mm(), "Width at the bottom")
                    .words("wide at the bottom and")
                    .length("/form/height_mm", height_mm.mm(), "Height")
                    .words("high, its middle");
                self.back("/form/centre_mm", centre_mm.mm(), "its middle");
                self.saying
                    .words(&format!("back from the {} along the", self.zero));
                self.reference();
                self.saying.words(".");
            }
        }
    }

    fn measured_to(&mut self) {
        if let Form::Rectangle { to, .. } = &self.feature.form {
            self.saying.one_of(
                "/form/to",
                to,
                "Measured to its",
                offered([("corner", "upper front corner"), ("middle", "middle")]),
            );
        }
    }

    /// Whether somebody has measured what need not be: it begins from a usual figure.
    fn unless_measured(&mut self) {
        let (label, nobody, somebody, usual) = match (self.feature.kind, &self.feature.form) {
            (FeatureKind::Rivets | FeatureKind::Fastener, Form::Heads { head_mm, .. }) => (
                "How high a head stands",
                "How high a head stands nobody has measured.",
                "A head stands up by",
                Details::Head {
                    height_mm: (head_mm.mm() / 4.0).into(),
                },
            ),
            (FeatureKind::Crease | FeatureKind::BodyLine, _) => (
                "How deep it is",
                "How deep it is nobody has measured.",
                "It is",
                Details::Fold {
                    depth_mm: 6.35.into(),
                    wide_mm: 25.4.into(),
                },
            ),
            _ => return,
        };
        let known = self.feature.details.unwrap_or(usual);
        let known = serde_json::to_value(known).unwrap_or_default();
        self.saying.one_of(
            "/details",
            self.feature.details,
            label,
            offered([(Value::Null, nobody), (known, somebody)]),
        );
    }

    fn details(&mut self, edges: &EdgeNames) {
        match &self.feature.details {
            None => self.unless_measured(),
            Some(Details::Head { height_mm }) => {
                self.unless_measured();
                self.saying
                    .length("/details/height_mm", height_mm.mm(), "A head stands up by")
                    .words(".");
            }
            Some(Details::Fold { depth_mm, wide_mm }) => {
                self.unless_measured();
                self.saying
                    .length("/details/depth_mm", depth_mm.mm(), "Depth")
                    .words("deep and")
                    .length("/details/wide_mm", wide_mm.mm(), "Across it")
                    .words("across.");
            }
            Some(Details::Lamp {
                colour,
                required,
                function,
            }) => {
                self.saying
                    .words("Its lens is")
                    .one_of(
                        "/details/colour",
                        colour,
                        "Lens",
                        offered([("amber", "amber"), ("red", "red"), ("white", "white")]),
                    )
                    .words(", and the lamp is")
                    .one_of(
                        "/details/required",
                        required,
                        "Required by law",
                        offered([(true, "required by law"), (false, "an extra")]),
                    )
                    .words("; it is")
                    .one_of(
                        "/details/function",
                        function,
                        "What it is for",
                        offered([
                            ("unknown", "(for what nobody has said)"),
                            ("stop", "a stop lamp"),
                            ("tail", "a tail or position lamp"),
                            ("turn", "a turn signal"),
                            ("marker", "a marker or clearance lamp"),
                            ("reverse", "a reversing lamp"),
                            ("plate", "a plate lamp"),
                            ("reflector", "a reflector, no lamp"),
                        ]),
                    )
                    .words(".");
            }
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                open,
            }) => {
                let out = |edge: &str| format!("towards the {edge}");
                self.saying
                    .words("It is")
                    .length("/details/depth_mm", depth_mm.mm(), "Depth")
                    .words("deep, its walls lean")
                    .number(
                        "/details/wall_degrees",
                        *wall_degrees,
                        "Walls lean from the face by",
                    )
                    .words("degrees from the face, and air leaves")
                    .one_of(
                        "/details/open",
                        open,
                        "Air leaves",
                        offered([
                            ("enclosed", "nowhere: walls all round".to_owned()),
                            ("top", "at the top".to_owned()),
                            ("foot", "at the foot".to_owned()),
                            ("front", out(&edges.zero)),
                            ("rear", out(&edges.far)),
                        ]),
                    )
                    .words(".");
            }
            Some(Details::Curve { compound, rise_mm }) => {
                self.saying
                    .words("It rises")
                    .length("/details/rise_mm", rise_mm.mm(), "Rises over its chord by")
                    .words("over its chord and bends")
                    .one_of(
                        "/details/compound",
                        compound,
                        "It bends",
                        offered([(false, "one way"), (true, "two ways")]),
                    )
                    .words(".");
            }
            Some(Details::Hollow { depth_mm }) => {
                self.saying
                    .words("It is")
                    .length("/details/depth_mm", depth_mm.mm(), "Depth")
                    .words("deep at most.");
            }
            Some(Details::Glass { driver }) => {
                self.saying.one_of(
                    "/details/driver",
                    driver,
                    "Who looks through it",
                    offered([
                        (true, "The driver looks through it"),
                        (false, "Nobody drives by it"),
                    ]),
                );
                self.saying.words(".");
            }
        }
    }

    /// What film does about it.
    fn film(&mut self) {
        let class = self.feature.kind.class();
        if matches!(class, FeatureClass::KeepOff | FeatureClass::Line) {
            self.saying
                .words("Film keeps off it by")
                .length(
                    "/clearance_mm",
                    self.feature.clearance_mm.mm(),
                    "Film keeps off it by",
                )
                .words(whose(self.feature));
        }
        // A zone is the panel itself: it cannot come off.
        if class != FeatureClass::Zone {
            self.saying
                .words("Before film")
                .one_of(
                    "/comes_off",
                    self.feature.comes_off,
                    "Before film",
                    offered([
                        ("stays", "it stays"),
                        ("goes_back", "it comes off and goes back"),
                        ("for_good", "it comes off for good"),
                    ]),
                )
                .words(".");
        }
    }
}

/// Whose figure a clearance is, as long as it is the one that a new feature starts from.
fn whose(feature: &Feature) -> &'static str {
    let usual = feature.kind.usual_clearance_mm();
    match feature.kind {
        _ if usual == 0.0 || (feature.clearance_mm.mm() - usual).abs() > 0.01 => ".",
        FeatureKind::Hinge | FeatureKind::Latch => "(common practice).",
        _ => "(our figure).",
    }
}

/// Says how a feature is measured, in the words of its side.
///
/// ```
/// # use windrift_core::ground::{said::plainly, settings::SideWords, tape::Unit};
/// # use windrift_core::vehicle::{body::Body, side::{Side, words::SideKind}, surface::Surface};
/// # use windrift_core::vehicle::{feature::{Feature, form::Form, kind::FeatureKind, said::said}};
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 2438.4.into(), fall_mm: 0.0.into() };
/// let side = Side::new(SideKind::Left, body, Surface::default());
/// let seams = Form::Upright { first_mm: 1219.2.into(), pitch_mm: 1219.2.into(), count: 2 };
/// let seams = Feature::new(FeatureKind::PanelSeam, seams);
/// let edges = side.edge_names(SideWords::StreetCurbKeepRight);
/// assert!(plainly(&said(&seams, &side, &edges, Unit::InchSixteenth))
///     .starts_with("2 seams over the whole height, the first 4' 0 back from the front edge along the top rail, then one every 4' 0."));
/// ```
pub fn said(feature: &Feature, side: &Side, edges: &EdgeNames, unit: Unit) -> Vec<Said> {
    let mut measures = Measures {
        side,
        feature,
        zero: &edges.zero,
        saying: Saying::new(unit),
    };
    measures.form();
    measures.details(edges);
    measures.film();
    measures.saying.done()
}
