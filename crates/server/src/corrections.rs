//! The shop's corrections of published figures.

use serde_json::Value;
use windrift_core::marking::RuleSet;
use windrift_core::marking::rules::Corrections;

use crate::desk::Desk;
use crate::problem::Problem;

/// The shop's corrections as the core takes them.
pub async fn corrections(desk: &Desk) -> Result<Corrections, Problem> {
    let mut all = Corrections::new();
    for row in desk.corrections().await? {
        let set: Option<RuleSet> = serde_json::from_value(Value::from(row.rule_set)).ok();
        if let Some(set) = set {
            all.entry(set).or_default().insert(row.key, row.value);
        }
    }
    Ok(all)
}
