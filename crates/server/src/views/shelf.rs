//! The shelf as the web application is given it.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::classes::{FilmClass, FilmFigures};
use windrift_core::film::roll::{OnIt, Roll};
use windrift_core::film::stocked::{StockedFilm, ToldFigure};
use windrift_core::film::supply::{Counted, Supply, SupplyKind};
use windrift_core::ground::tape::{Length, Unit, print};
use windrift_store::entity::{film, roll, supply};
use windrift_store::stored::Kind;

/// A roll of which less is left than this share is nearly empty (ours).
const NEARLY_EMPTY: f64 = 0.1;

/// A roll or an offcut.
#[derive(Debug, Serialize, ToSchema)]
pub struct RollView {
    /// Its key.
    pub id: Uuid,
    /// Its film.
    pub film: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What it is.
    pub roll: Roll,
    /// Its width.
    pub width: Length,
    /// Its length when it came.
    pub length: Length,
    /// What is left.
    pub left: Length,
    /// Whether it is nearly empty.
    pub nearly_empty: bool,
}

/// A film with its rolls.
#[derive(Debug, Serialize, ToSchema)]
pub struct FilmView {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// The film.
    pub film: StockedFilm,
    /// What its class is called.
    pub class_name: &'static str,
    /// Every figure, with where it comes from.
    pub figures: Vec<ToldFigure>,
    /// Which figures of the class are from memory or our own.
    pub from_memory: Option<&'static str>,
    /// Film and liner as they are wound, mm, where the liner is known.
    pub wound_mm: Option<f64>,
    /// Its rolls and offcuts.
    pub rolls: Vec<RollView>,
    /// Left on all of them.
    pub left: Length,
}

/// The shelf.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShelfView {
    /// Films with their rolls.
    pub films: Vec<FilmView>,
    /// Every class, to choose from.
    pub classes: Vec<FilmFigures>,
    /// The longest roll, mm: all are drawn to one scale.
    pub longest_mm: f64,
}

/// How much is on a roll by its diameters.
#[derive(Debug, Serialize, ToSchema)]
pub struct OnItView {
    /// By the figures as typed.
    pub length: Length,
    /// At least.
    pub least: Length,
    /// At most.
    pub most: Length,
}

impl OnItView {
    /// As it is printed.
    pub fn of(found: OnIt, unit: Unit) -> OnItView {
        // No finer than it is known: to whole inches or centimetres, the range outwards.
        let step = match unit {
            Unit::Millimetre => 10.0,
            _ => 25.4,
        };
        OnItView {
            length: print((found.length_mm / step).round() * step, unit),
            least: print((found.least_mm / step).floor() * step, unit),
            most: print((found.most_mm / step).ceil() * step, unit),
        }
    }
}

impl ShelfView {
    /// From its rows; what cannot be read is left out and written to the log.
    pub fn of(films: Vec<film::Model>, rolls: Vec<roll::Model>, unit: Unit) -> ShelfView {
        let rolls: Vec<RollView> = (rolls.into_iter())
            .filter_map(|r| {
                let roll: Roll = read(Kind::Roll, r.id, &r.spec)?;
                Some(RollView {
                    id: r.id,
                    film: r.film_id,
                    revision: r.revision,
                    width: print(roll.width_mm.mm(), unit),
                    length: print(roll.length_mm.mm(), unit),
                    left: print(r.left_mm, unit),
                    nearly_empty: !roll.offcut && r.left_mm < NEARLY_EMPTY * roll.length_mm.mm(),
                    roll,
                })
            })
            .collect();
        let longest_mm = rolls
            .iter()
            .map(|r| r.length.mm.max(r.left.mm))
            .fold(0.0, f64::max);
        let mut rolls = rolls;
        let films = (films.into_iter())
            .filter_map(|f| {
                let film: StockedFilm = read(Kind::Film, f.id, &f.spec)?;
                let (own, rest) = std::mem::take(&mut rolls)
                    .into_iter()
                    .partition::<Vec<_>, _>(|r| r.film == f.id);
                rolls = rest;
                let class = film.class.figures();
                Some(FilmView {
                    id: f.id,
                    revision: f.revision,
                    class_name: class.name,
                    from_memory: class.from_memory,
                    figures: film.told(unit),
                    wound_mm: film.wound_mm(),
                    left: print(own.iter().map(|r| r.left.mm).sum(), unit),
                    rolls: own,
                    film,
                })
            })
            .collect();
        ShelfView {
            films,
            classes: FilmClass::ALL.map(FilmClass::figures).to_vec(),
            longest_mm,
        }
    }
}

fn read<T: serde::de::DeserializeOwned>(
    kind: Kind,
    id: Uuid,
    spec: &serde_json::Value,
) -> Option<T> {
    match kind.read(spec) {
        Ok(read) => Some(read),
        Err(error) => {
            tracing::error!(%error, %id, "on the shelf");
            None
        }
    }
}

/// A kind of supply, to choose from.
#[derive(Debug, Serialize, ToSchema)]
pub struct SupplyWord {
    /// The kind.
    pub kind: SupplyKind,
    /// What it is called.
    pub name: &'static str,
    /// How it is counted.
    pub counted: Counted,
}

/// A supply with what is left.
#[derive(Debug, Serialize, ToSchema)]
pub struct SupplyView {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What it is.
    pub supply: Supply,
    /// What its kind is called.
    pub kind_name: &'static str,
    /// How wide, where it has a width.
    pub width: Option<Length>,
    /// What is left, told.
    pub left: String,
}

/// Supplies on the shelf.
#[derive(Debug, Serialize, ToSchema)]
pub struct SuppliesView {
    /// All of them, kind by kind.
    pub supplies: Vec<SupplyView>,
    /// Every kind, to choose from.
    pub kinds: Vec<SupplyWord>,
}

impl SuppliesView {
    /// From its rows; what cannot be read is left out and written to the log.
    pub fn of(rows: Vec<supply::Model>, unit: Unit) -> SuppliesView {
        let mut supplies: Vec<SupplyView> = (rows.into_iter())
            .filter_map(|row| {
                let supply: Supply = read(Kind::Supply, row.id, &row.spec)?;
                Some(SupplyView {
                    id: row.id,
                    revision: row.revision,
                    kind_name: supply.kind.name(),
                    width: supply.width_mm.map(|mm| print(mm.mm(), unit)),
                    left: supply.told(unit),
                    supply,
                })
            })
            .collect();
        supplies.sort_by_key(|s| SupplyKind::ALL.iter().position(|k| *k == s.supply.kind));
        SuppliesView {
            supplies,
            kinds: SupplyKind::ALL
                .map(|kind| SupplyWord {
                    kind,
                    name: kind.name(),
                    counted: kind.counted(),
                })
                .into(),
        }
    }
}
