//! What a move would do: records carried to another lane or group, told before it is kept.

use super::{Query, Shape, Spot, Window, words::counted};
use crate::{
    Clock,
    access::{Asker, Lens},
    dataset::Dataset,
    fault::Checked,
    id::{RecordId, TableId, ViewId},
    intent::{Edit, Intent, OrderStep},
    value::Value,
};
use serde::{Deserialize, Serialize};

/// What a move would do.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MoveRehearsal {
    /// In sentences, what changes first.
    pub says: Vec<String>,
    /// Where the first of the records would stand in the view’s order, from 0; nothing where the view would not show it.
    pub place: Option<usize>,
}

/// Records that are carried to another lane, group or place.
#[derive(Clone, Debug)]
pub struct Moving {
    pub records: Vec<RecordId>,
    /// The values that they have there.
    pub edits: Vec<Edit>,
    /// The view whose own order they stand in.
    pub view: Option<ViewId>,
    /// Where in it they are put; nothing: where they stand already.
    pub spot: Option<Spot>,
}

impl Moving {
    /// As it is done.
    pub fn intent(&self, table: TableId) -> Intent {
        let (records, edits) = (self.records.clone(), self.edits.clone());
        match (self.view, self.spot) {
            (Some(view), Some(spot)) => Intent::Order { view, step: OrderStep::Place { records, spot, edits } },
            _ => Intent::EditSeveral { table, records, edits },
        }
    }
}

impl Query {
    /// What putting values into some records would do to this view, decided and thrown away.
    ///
    /// # Errors
    /// What would be refused, as it would be.
    pub fn rehearse_move(&self, ds: &Dataset, asker: Asker, clock: &Clock, table: TableId, moving: &Moving) -> Checked<MoveRehearsal> {
        let records = &moving.records;
        let decision = ds.decide(&moving.intent(table), asker, clock)?;
        let mut after = ds.clone();
        after.apply(&decision.change);
        let (before, now) = (Lens::new(ds, asker, clock), Lens::new(&after, asker, clock));
        let mut says = Vec::new();
        if decision.change.ops.is_empty() {
            says.push("Nothing changes: they are there already.".to_owned());
        } else {
            says.push(format!("You {}.", decision.change.in_words(&now).replacen("changed", "change", 1).replacen("moved", "move", 1)));
        }
        let shown = |query: &Query, lens: &Lens<'_>| -> Vec<RecordId> {
            let found = query.condition.matching(lens, table);
            records.iter().copied().filter(|record| found.contains(record.row())).collect()
        };
        let lost = records.iter().filter(|record| before.sees(table, **record) && !now.sees(table, **record)).count();
        if lost > 0 {
            says.push(format!("{} out of your sight: it is not in your reach any more.", goes(&before, table, lost)));
        }
        let (was, stays) = (shown(self, &before), shown(self, &now));
        let left = was.iter().filter(|record| !stays.contains(record) && now.sees(table, **record)).count();
        if left > 0 {
            says.push(format!("{} this view, which leaves out what it is then.", leaves(&before, table, left)));
        }
        says.extend(self.beyond_limit(&before, &now, table));
        let outcome = self.run(&now, table, &Window { rows: 0..0, keep: &stays, own: moving.view.and_then(|view| now.own_order(view)) });
        let place = outcome.kept.iter().map(|(_, place)| *place).min();
        Ok(MoveRehearsal { says, place })
    }

    /// *Checked holds 13 then: 1 more than it should.*
    fn beyond_limit(&self, before: &Lens<'_>, now: &Lens<'_>, table: TableId) -> Option<String> {
        let Shape::Lanes(lanes) = &self.shape else { return None };
        // Groups are counted, before and after, only where something hangs on it.
        if lanes.limits.iter().all(|limit| limit.most.is_none()) {
            return None;
        }
        let lanes_of = |lens: &Lens<'_>| self.run(lens, table, &Window::default()).groups;
        let (then, earlier) = (lanes_of(now), lanes_of(before));
        let most = |value: &Value| lanes.limits.iter().find(|limit| limit.lane == *value)?.most;
        then.iter().find_map(|lane| {
            let most = usize::try_from(most(&lane.value)?).ok()?;
            let grew = earlier.iter().find(|one| one.value == lane.value).is_none_or(|one| one.count < lane.count);
            let customs = now.clock().customs();
            (lane.count > most && grew).then(|| {
                let more = customs.count_text(lane.count.saturating_sub(most));
                format!("“{}” holds {} then: {more} more than it should.", lane.text, counted(now, table, lane.count))
            })
        })
    }
}

fn goes(lens: &Lens<'_>, table: TableId, count: usize) -> String {
    format!("{} {}", counted(lens, table, count), if count == 1 { "goes" } else { "go" })
}

fn leaves(lens: &Lens<'_>, table: TableId, count: usize) -> String {
    format!("{} {}", counted(lens, table, count), if count == 1 { "leaves" } else { "leave" })
}
