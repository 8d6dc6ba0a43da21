//! What a film's own data sheet says in place of the figures of its class.

use serde::{Deserialize, Serialize};

use crate::film::classes::{HOTTEST_CELSIUS, Span};
use crate::film::ink::Ink;
use crate::film::laminate::{Laminate, MOST_LAMINATES};
use crate::ground::told::Told;

/// What a film's data sheet says. Whatever it leaves open stays as it is for the class.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct DataSheet {
    /// Film, adhesive and laminate together, mm.
    pub thickness_mm: Option<f64>,
    /// Liner, mm.
    pub liner_mm: Option<f64>,
    /// Temperatures that it is fitted at, °C.
    pub fit: Option<Span>,
    /// Temperatures that it is formed at, °C.
    pub form: Option<Span>,
    /// Temperatures that it is heated to once it lies, °C.
    pub post_heat: Option<Span>,
    /// Never warmer, °C.
    pub ceiling_celsius: Option<f64>,
    /// Stretch that it is kept under one way, as a share.
    pub stretch: Option<f64>,
    /// Stretch that it is kept under both ways at once, as a share.
    pub two_way_stretch: Option<f64>,
    /// Stretch that it must never be past, as a share.
    pub stretch_most: Option<f64>,
    /// How far panels lap, mm.
    pub lap_mm: Option<Span>,
    /// Hours until it has set.
    pub sets_hours: Option<f64>,
    /// Days until it may be washed first.
    pub first_wash_days: Option<f64>,
    /// Whether its liner mark must point the same way on every piece.
    pub directional: Option<bool>,
    /// Whether it comes off cleanly later.
    pub removable: Option<bool>,
    /// Whether it may be laid wet.
    pub wet: Option<bool>,
    /// Years upright.
    pub upright_years: Option<f64>,
    /// Years lying, on a hood or a roof.
    pub lying_years: Option<f64>,
    /// Whether its adhesive is grey, which hides what is below.
    pub grey: Option<bool>,
    /// Weeks after fitting from which it is polished; 0 where the sheet forbids it. Where the sheet is silent neither is printed.
    pub polish_after_weeks: Option<f64>,
    /// Whether a coat of what it names goes over it once it lies.
    pub aftercare_coat: Option<bool>,
    /// Hours that a print in solvent ink gasses out before laminate goes on.
    pub solvent_hours: Option<f64>,
    /// The same of eco-solvent ink.
    pub eco_solvent_hours: Option<f64>,
    /// The same of latex ink.
    pub latex_hours: Option<f64>,
    /// The same of ink that is cured by ultraviolet light.
    pub uv_hours: Option<f64>,
    /// Laminates that belong to it.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub laminates: Vec<Laminate>,
}

/// Fields of a data sheet as they are called.
pub const FIELDS: [(&str, &str); 24] = [
    ("thickness_mm", "Film and laminate"),
    ("liner_mm", "Liner"),
    ("fit", "Fitted at"),
    ("form", "Formed at"),
    ("post_heat", "Heated to once it lies"),
    ("ceiling_celsius", "Never warmer than"),
    ("stretch", "Kept under this stretch, one way"),
    ("two_way_stretch", "Both ways at once"),
    ("stretch_most", "Never stretched past"),
    ("lap_mm", "Panels lap"),
    ("sets_hours", "Sets in"),
    ("first_wash_days", "First wash after"),
    ("directional", "Liner mark the same way on every piece"),
    ("removable", "Comes off cleanly later"),
    ("wet", "May be laid wet"),
    ("upright_years", "Lasts upright"),
    ("lying_years", "Lasts lying"),
    ("grey", "Grey adhesive, hides what is below"),
    ("polish_after_weeks", "Polish"),
    ("aftercare_coat", "Aftercare coat once it lies"),
    ("solvent_hours", "Gasses out, solvent ink"),
    ("eco_solvent_hours", "Gasses out, eco-solvent ink"),
    ("latex_hours", "Gasses out, latex ink"),
    ("uv_hours", "Gasses out, UV ink"),
];

/// What a field is called.
pub(crate) fn called(key: &str) -> &'static str {
    let named = FIELDS.iter().find(|(k, _)| *k == key);
    named.map_or("This figure", |(_, what)| what)
}

impl DataSheet {
    /// Whether its figures can be a film's.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        let wrong = |key: &str, sentence: String| {
            Err(Told::new("film", sentence).at(format!("/sheet/{key}")))
        };
        for (key, value, least, most, unit) in [
            ("thickness_mm", self.thickness_mm, 0.01, 5.0, " mm"),
            ("liner_mm", self.liner_mm, 0.01, 2.0, " mm"),
            (
                "ceiling_celsius",
                self.ceiling_celsius,
                30.0,
                HOTTEST_CELSIUS,
                " °C",
            ),
            ("stretch", self.stretch, 0.0, 1.0, ""),
            ("two_way_stretch", self.two_way_stretch, 0.0, 1.0, ""),
            ("stretch_most", self.stretch_most, 0.0, 2.0, ""),
            ("sets_hours", self.sets_hours, 0.0, 720.0, " hours"),
            ("first_wash_days", self.first_wash_days, 0.0, 60.0, " days"),
            ("upright_years", self.upright_years, 0.1, 30.0, " years"),
            ("lying_years", self.lying_years, 0.1, 30.0, " years"),
            (
                "polish_after_weeks",
                self.polish_after_weeks,
                0.0,
                104.0,
                " weeks",
            ),
            ("solvent_hours", self.solvent_hours, 0.0, 240.0, " hours"),
            (
                "eco_solvent_hours",
                self.eco_solvent_hours,
                0.0,
                240.0,
                " hours",
            ),
            ("latex_hours", self.latex_hours, 0.0, 240.0, " hours"),
            ("uv_hours", self.uv_hours, 0.0, 240.0, " hours"),
        ] {
            if value.is_some_and(|v| !(v.is_finite() && (least..=most).contains(&v))) {
                return wrong(
                    key,
                    format!(
                        "{}: from {least} to {most}{unit} can be worked with. Read the data sheet again.",
                        called(key)
                    ),
                );
            }
        }
        for (key, span, least, most, unit) in [
            ("fit", self.fit, -20.0, 60.0, "°C"),
            ("form", self.form, 20.0, HOTTEST_CELSIUS, "°C"),
            ("post_heat", self.post_heat, 20.0, HOTTEST_CELSIUS, "°C"),
            ("lap_mm", self.lap_mm, 0.0, 150.0, "mm"),
        ] {
            let Some(Span { from, to }) = span else {
                continue;
            };
            if !(from.is_finite() && to.is_finite() && least <= from && from <= to && to <= most) {
                return wrong(
                    key,
                    format!(
                        "{}: from {least} to {most} {unit}, the lower figure first. Read the data sheet again.",
                        called(key)
                    ),
                );
            }
        }
        check_laminates(&self.laminates)
    }

    /// Hours that a print in this ink gasses out before laminate goes on; nothing where the sheet is silent.
    pub fn outgas_hours(&self, ink: Ink) -> Option<f64> {
        match ink {
            Ink::Solvent => self.solvent_hours,
            Ink::EcoSolvent => self.eco_solvent_hours,
            Ink::Latex => self.latex_hours,
            Ink::Uv => self.uv_hours,
        }
    }

    /// The sheet of film and laminate together.
    ///
    /// ```
    /// use windrift_core::film::{data_sheet::DataSheet, laminate::Laminate};
    /// let film = DataSheet { thickness_mm: Some(0.08), upright_years: Some(5.0), ..DataSheet::default() };
    /// let gloss = Laminate { name: "gloss".into(), thickness_mm: Some(0.13), ..Laminate::default() };
    /// let both = film.under(&gloss);
    /// assert_eq!((both.thickness_mm, both.upright_years), (Some(0.13), Some(5.0)));
    /// ```
    pub fn under(&self, laminate: &Laminate) -> DataSheet {
        DataSheet {
            thickness_mm: laminate.thickness_mm.or(self.thickness_mm),
            stretch: laminate.stretch.or(self.stretch),
            two_way_stretch: laminate.two_way_stretch.or(self.two_way_stretch),
            upright_years: laminate.upright_years.or(self.upright_years),
            lying_years: laminate.lying_years.or(self.lying_years),
            ..self.clone()
        }
    }
}

fn check_laminates(laminates: &[Laminate]) -> Result<(), Told> {
    let wrong = |n: usize, field: &str, sentence: String| {
        Err(Told::new("film", sentence).at(format!("/sheet/laminates/{n}/{field}")))
    };
    if laminates.len() > MOST_LAMINATES {
        let sentence = format!(
            "A film has {MOST_LAMINATES} laminates at most. Leave out those that you do not use."
        );
        return Err(Told::new("film", sentence).at("/sheet/laminates"));
    }
    for (n, l) in laminates.iter().enumerate() {
        let name = l.name.trim();
        if !(1..=60).contains(&name.chars().count()) {
            let sentence = "Give each laminate a name of 1 to 60 letters.";
            return wrong(n, "name", sentence.into());
        }
        let mut before = laminates.iter().take(n);
        if before.any(|other| other.name.trim().to_lowercase() == name.to_lowercase()) {
            let sentence =
                format!("Two laminates are called {name}. Give one of them another name.");
            return wrong(n, "name", sentence);
        }
        let figures = DataSheet::default().under(l);
        figures.check().map_err(|told| {
            let at = told.field.as_deref().unwrap_or_default();
            let field = at.rsplit('/').next().unwrap_or_default();
            Told::new("film", format!("{name}: {}", told.sentence))
                .at(format!("/sheet/laminates/{n}/{field}"))
        })?;
    }
    Ok(())
}
