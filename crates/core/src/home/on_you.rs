//! What is on whoever looks at home: of their rounds, what has come to its day.

use crate::{
    id::TrackerId,
    rounds::{Duty, pressing},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Most that are told of one tracker; rounds tell of all.
const TOLD: usize = 4;

/// What is on somebody in one tracker, or in none.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OnYou {
    /// What is late first.
    pub duties: Vec<Duty>,
    /// How many more there are.
    pub more: usize,
}

impl OnYou {
    /// How many there are in all.
    pub fn count(&self) -> usize {
        self.duties.len().saturating_add(self.more)
    }
}

/// Of all that is on somebody, what is late or stands under today, tracker by tracker; none: it is in no tracker.
pub fn on_you(mut duties: Vec<Duty>, today: Date) -> BTreeMap<Option<TrackerId>, OnYou> {
    duties.retain(|duty| duty.done.is_none() && duty.day.is_some_and(|day| duty.late > 0 || day <= today));
    duties.sort_by(pressing);
    let mut told: BTreeMap<Option<TrackerId>, OnYou> = BTreeMap::new();
    for duty in duties {
        let here = told.entry(duty.tracker).or_default();
        if here.duties.len() < TOLD {
            here.duties.push(duty);
        } else {
            here.more = here.more.saturating_add(1);
        }
    }
    told
}
