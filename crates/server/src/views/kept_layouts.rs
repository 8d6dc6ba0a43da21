//! The best layouts of faces that were asked for lately.

use std::collections::{BTreeMap, VecDeque};
use std::sync::{Arc, Mutex, PoisonError};

use windrift_core::marking::{ElementPlan, FaceAsk, FaceMarking, mark_face};

/// Best layouts that are kept, the newest last: a strip that is moved by hand asks for the same one many times a second.
const MOST_KEPT: usize = 24;
static KEPT: Mutex<VecDeque<(String, Arc<Vec<ElementPlan>>)>> = Mutex::new(VecDeque::new());

/// The best layout of a face, from those kept where nothing that it hangs on has changed.
pub(super) fn best_of(ask: &FaceAsk<'_>) -> Vec<ElementPlan> {
    // Neither strips of the crew's own nor what was read, reasoned or metered changes what is best.
    let plain = FaceMarking {
        own: None,
        read_back: None,
        reasons: BTreeMap::new(),
        readings: Vec::new(),
        ..ask.marking.clone()
    };
    let key = format!(
        "{:?} {:?} {:?} {:?} {:?} {:?}",
        ask.side, ask.rules, ask.vehicle, plain, ask.ends, ask.unit
    );
    let kept = |key: &str| {
        let all = KEPT.lock().unwrap_or_else(PoisonError::into_inner);
        all.iter()
            .find(|(k, _)| k == key)
            .map(|(_, found)| found.clone())
    };
    if let Some(found) = kept(&key) {
        return found.as_ref().clone();
    }
    let found = Arc::new(mark_face(ask));
    let mut all = KEPT.lock().unwrap_or_else(PoisonError::into_inner);
    if all.len() >= MOST_KEPT {
        all.pop_front();
    }
    all.push_back((key, found.clone()));
    found.as_ref().clone()
}
