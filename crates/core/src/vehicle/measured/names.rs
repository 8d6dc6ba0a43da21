//! Everything is numbered from the front; a name that stands there once carries no number.

use crate::vehicle::measured::{Area, MeasuredSide};

/// Numbers everything from the front. A name that stands there once carries no number.
pub(crate) fn number(side: &mut MeasuredSide) {
    let datum = side.datum;
    side.lines.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    let names: Vec<String> = side.lines.iter().map(|l| l.name.clone()).collect();
    for (line, (number, name)) in side.lines.iter_mut().zip(numbered(&names)) {
        line.number = number;
        line.name = name;
    }
    side.columns.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    for (n, column) in (1..).zip(&mut side.columns) {
        column.number = n;
    }
    let place = |a: &Area| datum.read(a.outline.bounds.center());
    side.areas.sort_by(|a, b| {
        let (a, b) = (place(a), place(b));
        // To the tenth of a millimetre: a row that is plumb is numbered downwards.
        ((a.0 * 10.0).round(), a.1)
            .partial_cmp(&((b.0 * 10.0).round(), b.1))
            .unwrap_or(std::cmp::Ordering::Equal)
    });
    let names: Vec<String> = side.areas.iter().map(|a| a.name.clone()).collect();
    for (area, (_, name)) in side.areas.iter_mut().zip(numbered(&names)) {
        area.name = name;
    }
}

/// The number of each name among its equals, from 1, and the name with its number where there are several.
fn numbered(names: &[String]) -> Vec<(u32, String)> {
    let mut totals = std::collections::HashMap::<&str, u32>::new();
    for name in names {
        *totals.entry(name).or_default() += 1;
    }
    let mut so_far = std::collections::HashMap::<&str, u32>::new();
    names
        .iter()
        .map(|name| {
            let n = so_far.entry(name).or_default();
            *n += 1;
            match totals.get(name.as_str()) {
                Some(1) => (1, name.clone()),
                _ => (*n, format!("{name} {n}")),
            }
        })
        .collect()
}
