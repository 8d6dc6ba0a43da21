//! What was said of a feature, and the feature that follows from it: what was left out is as it usually is.

use uuid::Uuid;

use crate::ground::mm::{Mm, SignedMm};
use crate::ground::tape::Unit;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo};
use crate::vehicle::feature::kind::{
    ComesOff, Details, FeatureKind, LampColour, LampFunction, OpenSide,
};
use crate::vehicle::side::Side;
use crate::vehicle::start::features::{self, FormKind, forms_of};

/// What was said so far.
#[derive(Debug, Default)]
pub(super) struct Said {
    pub back: Option<f64>,
    pub drop: Option<f64>,
    pub to: Option<(Option<f64>, Option<f64>)>,
    pub middle: bool,
    pub wide: Option<f64>,
    pub high: Option<f64>,
    pub across: Option<f64>,
    pub head: Option<f64>,
    pub deep: Option<f64>,
    pub walls: Option<f64>,
    pub rises: Option<f64>,
    pub compound: Option<bool>,
    pub open: Option<OpenSide>,
    pub colour: Option<LampColour>,
    pub required: Option<bool>,
    pub function: Option<LampFunction>,
    /// Whether the driver looks through it.
    pub driver: Option<bool>,
    pub keep_off: Option<f64>,
    pub comes_off: Option<ComesOff>,
    pub called: Option<String>,
    pub note: Option<String>,
    pub reference: Option<Uuid>,
    pub path: Option<(Vec<Reading>, bool)>,
    pub along: Pitch,
    pub rows: Pitch,
    /// A bare length that nothing named yet.
    pub bare: Option<f64>,
    /// Whether the last pitch or place was down the side.
    pub downwards: bool,
}

#[derive(Debug, Default, Clone, Copy)]
pub(super) struct Pitch {
    pub every: Option<f64>,
    pub count: Option<u32>,
}

impl Said {
    /// In which of the kind's ways it was measured, by what was said of it.
    fn form_kind(&self, kind: FeatureKind) -> FormKind {
        let said = self;
        let forms = forms_of(kind);
        let can = |wanted: FormKind| forms.contains(&wanted).then_some(wanted);
        let usual = forms.first().copied().unwrap_or(FormKind::Rectangle);
        let wanted = match &said.path {
            Some((_, true)) => can(FormKind::Outline),
            Some((_, false)) => can(FormKind::OpenPath),
            None if said.across.is_some() => can(FormKind::Round),
            None if said.to.is_some() => can(FormKind::Straight),
            // Of a line or of heads that is how far across or how high it stands.
            None if (said.wide.is_some() || said.high.is_some())
                && !matches!(
                    kind,
                    FeatureKind::Rivets
                        | FeatureKind::Fastener
                        | FeatureKind::Crease
                        | FeatureKind::BodyLine
                ) =>
            {
                can(FormKind::Rectangle).or(can(FormKind::Arch))
            }
            None if said.drop.is_none() => can(FormKind::Upright),
            None => None,
        };
        wanted.unwrap_or(usual)
    }

    /// The feature of this kind that was said of a side.
    pub fn feature(self, of: FeatureKind, side: &Side, unit: Unit) -> Feature {
        let kind = self.form_kind(of);
        let said = self;
        let datum = side.datum_of(said.reference).unwrap_or(side.datum());
        let mut feature = features::feature(of, kind, side, None, unit);
        // How often it comes: as often as was said, as often as fits, or once.
        let fits = |first: f64, pitch: Pitch, length: f64| match (pitch.count, pitch.every) {
            (Some(count), _) => count,
            (None, Some(every)) if every > 0.0 => {
                ((length - first - 1.0) / every).floor().clamp(0.0, 499.0) as u32 + 1
            }
            _ => 1,
        };
        let first = said.back.or(said.along.every);
        let along = |first: f64| fits(first, said.along, datum.length_mm);
        match &mut feature.form {
            Form::Heads {
                first_mm,
                pitch_mm,
                columns,
                first_head_mm,
                head_pitch_mm,
                heads,
                head_mm,
            } => {
                put_signed(first_mm, first);
                put(pitch_mm, said.along.every);
                *columns = along(first_mm.mm());
                put_signed(first_head_mm, said.drop.or(said.rows.every));
                put(head_pitch_mm, said.rows.every);
                *heads = fits(
                    first_head_mm.mm(),
                    said.rows,
                    side.outline().bounds.height(),
                );
                put(head_mm, said.head.or(said.across));
            }
            Form::Upright {
                first_mm,
                pitch_mm,
                count,
            } => {
                put_signed(first_mm, first);
                put(pitch_mm, said.along.every);
                *count = along(first_mm.mm());
            }
            Form::Straight {
                back_mm,
                drop_mm,
                to_back_mm,
                to_drop_mm,
            } => {
                put_signed(back_mm, said.back);
                put_signed(drop_mm, said.drop);
                let (back, drop) = said.to.unwrap_or_default();
                // Plumb unless it is said to slope, where it is the edge of film.
                put_signed(
                    to_back_mm,
                    back.or(said.back.filter(|_| of == FeatureKind::FilmEdge)),
                );
                // Along the reference unless it is said to fall.
                put_signed(to_drop_mm, drop.or(said.drop));
            }
            Form::Path { points, .. } => {
                if let Some((read, _)) = said.path {
                    *points = read;
                }
            }
            Form::Rectangle {
                back_mm,
                drop_mm,
                to,
                width_mm,
                height_mm,
                repeat,
            } => {
                put_signed(back_mm, said.back);
                put_signed(drop_mm, said.drop);
                *to = if said.middle {
                    MeasuredTo::Middle
                } else {
                    MeasuredTo::Corner
                };
                put(width_mm, said.wide);
                put(height_mm, said.high);
                put(&mut repeat.pitch_mm, said.along.every);
                put(&mut repeat.row_pitch_mm, said.rows.every);
                repeat.count = fits(back_mm.mm() + width_mm.mm(), said.along, datum.length_mm);
                repeat.rows = said.rows.count.unwrap_or(1);
            }
            Form::Round {
                back_mm,
                drop_mm,
                across_mm,
                repeat,
            } => {
                put_signed(back_mm, said.back);
                put_signed(drop_mm, said.drop);
                put(across_mm, said.across);
                put(&mut repeat.pitch_mm, said.along.every);
                put(&mut repeat.row_pitch_mm, said.rows.every);
                repeat.count = along(back_mm.mm());
                repeat.rows = said.rows.count.unwrap_or(1);
            }
            Form::Arch {
                centre_mm,
                width_mm,
                height_mm,
            } => {
                put_signed(centre_mm, said.back);
                put(width_mm, said.wide);
                put(height_mm, said.high);
            }
        }
        feature.details = match (of, said.deep, said.wide, said.high) {
            (FeatureKind::Rivets | FeatureKind::Fastener, _, _, Some(high)) => {
                Some(Details::Head {
                    height_mm: high.into(),
                })
            }
            (FeatureKind::Crease | FeatureKind::BodyLine, Some(deep), wide, _) => {
                Some(Details::Fold {
                    depth_mm: deep.into(),
                    // As wide as a line of 45 degrees on both sides where nobody said so (ours).
                    wide_mm: wide.unwrap_or(2.0 * deep).into(),
                })
            }
            _ => feature.details,
        };
        match &mut feature.details {
            Some(Details::Lamp {
                colour,
                required,
                function,
            }) => {
                *function = said.function.unwrap_or(*function);
                *colour = said.colour.unwrap_or(*colour);
                *required = said.required.unwrap_or(*required);
            }
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                open,
            }) => {
                put(depth_mm, said.deep);
                *wall_degrees = said.walls.unwrap_or(*wall_degrees);
                *open = said.open.unwrap_or(*open);
            }
            Some(Details::Curve { compound, rise_mm }) => {
                put(rise_mm, said.rises);
                *compound = said.compound.unwrap_or(*compound);
            }
            Some(Details::Hollow { depth_mm }) => put(depth_mm, said.deep),
            Some(Details::Glass { driver }) => *driver = said.driver.unwrap_or(*driver),
            Some(Details::Head { .. } | Details::Fold { .. }) | None => {}
        }
        put(&mut feature.clearance_mm, said.keep_off);
        feature.comes_off = said.comes_off.unwrap_or(feature.comes_off);
        feature.called = said.called.filter(|c| !c.is_empty());
        feature.note = said.note.unwrap_or_default();
        feature.reference = said.reference;
        feature
    }
}

fn put(field: &mut Mm, said: Option<f64>) {
    if let Some(mm) = said {
        *field = mm.into();
    }
}

fn put_signed(field: &mut SignedMm, said: Option<f64>) {
    if let Some(mm) = said {
        *field = mm.into();
    }
}
