//! Two records made one: field by field, with what links to either and what was said of both; the other goes to the bin.

use super::{Decider, Edit};
use crate::{
    access::Right,
    dataset::Table,
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{CommentId, RecordId},
    merge::Merge,
    schema::{FieldDef, Kind},
    talk::Comment,
    value::{Attachment, Input, Value},
};
use std::collections::BTreeMap;

impl Decider<'_> {
    pub(super) fn make_one(&self, merge: &Merge) -> Checked<Vec<Op>> {
        let Merge { table, keep, other, take } = merge;
        if keep == other {
            return Err(Fault::new(FaultKind::BadRule, "A record can’t be merged with itself. Choose two.").into());
        }
        self.must(Right::Change, *table, *keep)?;
        self.must(Right::Remove, *table, *other)?;
        let home = self.ds.table(*table).ok_or_else(|| Fault::not_found("table"))?;
        let mut edits = Vec::new();
        for field in &home.def.fields {
            if let Some(value) = self.taken(home, *keep, *other, field, take.contains(&field.id))? {
                edits.push(Edit { field: field.id, input: value, was: None });
            }
        }
        // What one held of what no two may hold is free once it has gone.
        let mut ops = vec![Op::Gone { table: *table, record: *other, gone: true }];
        ops.extend(self.edit(*table, *keep, &edits)?);
        self.follow(home, *keep, *other, &mut ops);
        self.talk_follows(home, *keep, *other, &mut ops)?;
        Ok(ops)
    }

    /// What the one that stays holds then; nothing: what it holds.
    fn taken(&self, home: &Table, keep: RecordId, other: RecordId, field: &FieldDef, takes: bool) -> Result<Option<Input>, Fault> {
        let table = home.def.id;
        let stands = |record: RecordId| home.column(field.id).map_or(Value::Empty, |column| column.cell(record.row()).to_value()).tidy();
        let writes = field.kind.takes_input() && self.lens.changes(table, keep, field.id) && self.lens.shows(table, other, field.id);
        if takes && (!self.lens.shows(table, keep, field.id) || !self.lens.shows(table, other, field.id)) {
            return Err(Fault::not_found("field"));
        }
        let (ours, theirs) = (stands(keep), stands(other));
        let joined = match (&field.kind, ours, theirs) {
            (Kind::Link(link), ..) if !link.holds => None,
            // Of several, those of both, whichever is taken.
            (Kind::Link(link), Value::Links(ours), Value::Links(theirs)) if !link.one => {
                let seen = self.seen(table, field.id, &Value::Links(theirs));
                let Value::Links(theirs) = seen else { return Ok(None) };
                let more = theirs.into_iter().filter(|record| !ours.contains(record) && *record != keep);
                Some(Value::Links(ours.iter().copied().chain(more).collect()))
            }
            (Kind::Files, ours, Value::Files(theirs)) => {
                let is_there = |file: &&Attachment| matches!(&ours, Value::Files(ours) if ours.contains(file));
                return Ok(writes.then(|| Input::Upload(theirs.iter().filter(|file| !is_there(file)).cloned().collect())));
            }
            (_, _, theirs) if takes => Some(self.seen(table, field.id, &theirs)),
            (Kind::Link(link), Value::Empty, theirs) if !link.one => Some(self.seen(table, field.id, &theirs)),
            _ => None,
        };
        match joined {
            Some(_) if takes && !writes => {
                Err(Fault::new(FaultKind::NotAllowed, format!("You can look at “{}” but not change it.", field.name)))
            }
            joined => Ok(joined.filter(|_| writes).map(Input::Value)),
        }
    }

    /// Whatever links to the one that goes links to the one that stays, also what the asker does not see: for it the record was moved,
    /// and is told to nobody.
    fn follow(&self, home: &Table, keep: RecordId, other: RecordId, ops: &mut Vec<Op>) {
        for field in &home.def.fields {
            let Some(link) = home.link(field.id).filter(|link| !link.holds) else { continue };
            let Some(holders) = self.ds.table(link.to) else { continue };
            let linked = |record: RecordId| match home.column(field.id).map(|column| column.cell(record.row()).to_value()) {
                Some(Value::Links(records)) => records,
                _ => Vec::new(),
            };
            // Where only one may link to it, the one that stays keeps its own.
            if link.one && !linked(keep).is_empty() {
                continue;
            }
            for holder in linked(other).into_iter().filter(|holder| link.to != home.def.id || (*holder != keep && *holder != other)) {
                let Some(Value::Links(before)) = holders.column(link.back).map(|column| column.cell(holder.row()).to_value()) else {
                    continue;
                };
                let mut after: Vec<RecordId> = Vec::new();
                for record in before.iter().map(|record| if *record == other { keep } else { *record }) {
                    if !after.contains(&record) {
                        after.push(record);
                    }
                }
                ops.push(Op::Cell {
                    table: link.to,
                    record: holder,
                    field: link.back,
                    before: Value::Links(before),
                    after: Value::Links(after),
                });
            }
        }
    }

    /// What was said of the one that goes is said of the one that stays, after what was said of that.
    fn talk_follows(&self, home: &Table, keep: RecordId, other: RecordId, ops: &mut Vec<Op>) -> Result<(), Fault> {
        let last = home.talk.of(keep).map(|comment| comment.id.get()).max().unwrap_or(0);
        let mut numbers: BTreeMap<CommentId, CommentId> = BTreeMap::new();
        let moved: Vec<&Comment> = home.talk.of(other).collect();
        for (comment, number) in moved.iter().zip(last.saturating_add(1)..) {
            let id =
                CommentId::new(number).ok_or_else(|| Fault::new(FaultKind::TooLong, "Too much was said of both to be put together."))?;
            numbers.insert(comment.id, id);
        }
        for comment in moved {
            let Some(id) = numbers.get(&comment.id).copied() else { continue };
            let answers = comment.answers.and_then(|answered| numbers.get(&answered).copied());
            let after = Comment { id, answers, ..comment.clone() };
            ops.push(Op::Say { table: home.def.id, record: keep, before: None, after: Some(Box::new(after)) });
        }
        Ok(())
    }
}
