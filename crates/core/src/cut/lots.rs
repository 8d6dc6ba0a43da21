//! Lots: film of two lots differs in colour, so what is seen together comes from one.

use uuid::Uuid;

/// A piece with the lot that it is cut from, or is to be cut from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OfLot {
    /// The side that it is seen on.
    pub side: String,
    /// Its film.
    pub film: Uuid,
    /// What it is called.
    pub called: String,
    /// The lot.
    pub lot: String,
}

/// Pieces of one film on one side that come from different lots, one sentence for each that differs from the first.
///
/// ```
/// use windrift_core::cut::lots::{OfLot, seen_together};
/// let of = |called: &str, lot: &str| OfLot { side: "street side".into(), film: uuid::Uuid::nil(), called: called.into(), lot: lot.into() };
/// assert!(seen_together(&[of("HAVEN", "K-1"), of("BOOKS", "K-1")]).is_empty());
/// let told = seen_together(&[of("HAVEN", "K-1"), of("BOOKS", "K-2")]);
/// assert_eq!(told, ["BOOKS is from lot K-2 and HAVEN from lot K-1: both are seen together on the street side."]);
/// ```
pub fn seen_together(pieces: &[OfLot]) -> Vec<String> {
    let mut firsts: Vec<&OfLot> = Vec::new();
    let mut told = Vec::new();
    for p in pieces {
        match firsts.iter().find(|f| f.side == p.side && f.film == p.film) {
            None => firsts.push(p),
            Some(first) if first.lot != p.lot => told.push(format!(
                "{} is from lot {} and {} from lot {}: both are seen together on the {}.",
                p.called, p.lot, first.called, first.lot, p.side
            )),
            Some(_) => {}
        }
    }
    told
}

/// Which rolls are tried together, the first that has enough is taken: those of the lot that something of the job is cut from already, then
/// those of each lot by itself, the one with least left first, and all of them last. `rolls` are lot and length left, mm; answers are places in
/// it.
///
/// ```
/// use windrift_core::cut::lots::tried_together;
/// let rolls = [("K-1", 20_000.0), ("K-2", 3000.0), ("K-1", 500.0)];
/// assert_eq!(tried_together(&rolls, None), [vec![1], vec![0, 2], vec![0, 1, 2]]);
/// assert_eq!(tried_together(&rolls, Some("K-1"))[0], [0, 2]);
/// ```
pub fn tried_together(rolls: &[(&str, f64)], cut_from: Option<&str>) -> Vec<Vec<usize>> {
    let mut lots: Vec<(&str, f64, Vec<usize>)> = Vec::new();
    for (n, (lot, left)) in rolls.iter().enumerate() {
        match lots.iter_mut().find(|(l, ..)| l == lot) {
            Some((_, sum, own)) => {
                *sum += left;
                own.push(n);
            }
            None => lots.push((lot, *left, vec![n])),
        }
    }
    lots.sort_by(|a, b| {
        let first = |lot: &str| cut_from != Some(lot);
        first(a.0).cmp(&first(b.0)).then(a.1.total_cmp(&b.1))
    });
    let mut tried: Vec<Vec<usize>> = lots.into_iter().map(|(.., own)| own).collect();
    if tried.len() > 1 {
        tried.push((0..rolls.len()).collect());
    }
    tried
}
