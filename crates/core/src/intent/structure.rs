//! Changing the structure: tables, views, forms, roles, automations.

use super::{Decider, zone};
use crate::{
    access::{Asker, Base},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    history::{Change, Op, Part},
    id::{AutomationId, FormId, RoleId, TableId, ViewId},
    schema::{Kind, Preset, TableDef},
    value::Value,
    view::check_name,
};

/// The part under another number.
pub(super) fn numbered(part: Part, number: u32) -> Part {
    match part {
        Part::Tracker(tracker) => Part::Tracker(tracker),
        Part::Table(mut table) => {
            table.id = TableId::new(number).unwrap_or(table.id);
            Part::Table(table)
        }
        Part::View(mut view) => {
            view.id = ViewId::new(number).unwrap_or(view.id);
            Part::View(view)
        }
        Part::Form(mut form) => {
            form.id = FormId::new(number).unwrap_or(form.id);
            Part::Form(form)
        }
        Part::Role(mut role) => {
            role.id = RoleId::new(number).unwrap_or(role.id);
            Part::Role(role)
        }
        Part::Automation(mut automation) => {
            automation.id = AutomationId::new(number).unwrap_or(automation.id);
            Part::Automation(automation)
        }
    }
}

impl Dataset {
    /// The part that now has this part's sort and number.
    pub fn current(&self, part: &Part) -> Option<Part> {
        match part {
            Part::Tracker(_) => Some(Part::Tracker((*self.tracker).clone())),
            Part::Table(t) => self.table(t.id).map(|t| Part::Table((*t.def).clone())),
            Part::View(v) => self.view(v.id).cloned().map(Part::View),
            Part::Form(f) => self.form(f.id).cloned().map(Part::Form),
            Part::Role(r) => self.role(r.id).cloned().map(Part::Role),
            Part::Automation(a) => self.automation(a.id).cloned().map(Part::Automation),
        }
    }

    /// Every part, the tracker first, then tables.
    pub fn parts(&self) -> Vec<Part> {
        let mut parts = vec![Part::Tracker((*self.tracker).clone())];
        parts.extend(self.tables().map(|t| Part::Table((*t.def).clone())));
        parts.extend(self.views().cloned().map(Part::View));
        parts.extend(self.forms().cloned().map(Part::Form));
        parts.extend(self.roles().cloned().map(Part::Role));
        parts.extend(self.automations().cloned().map(Part::Automation));
        parts
    }
}

impl Decider<'_> {
    pub(super) fn current(&self, part: &Part) -> Result<Part, Fault> {
        self.ds.current(part).ok_or_else(|| Fault::not_found(part.key().0))
    }

    /// One part from one state to another, if the asker may and the rest still stands.
    pub(super) fn put(&self, before: Option<Part>, after: Option<Part>) -> Checked<Op> {
        for part in before.iter().chain(&after) {
            self.may_shape(part)?;
        }
        let op = Op::Put { before: before.map(Box::new), after: after.map(Box::new) };
        self.stands_after(std::slice::from_ref(&op))?;
        Ok(op)
    }

    /// Parts that name each other, made together.
    pub(super) fn build(&self, parts: &[Part]) -> Checked<Vec<Op>> {
        let mut ops = Vec::new();
        for part in parts {
            self.may_shape(part)?;
            let before = self.ds.current(part);
            if before.is_some() && !matches!(part, Part::Tracker(_)) {
                let (sort, number) = part.key();
                return Err(Fault::new(FaultKind::BadRule, format!("There is a {sort} with the number {number} already.")).into());
            }
            ops.push(Op::Put { before: before.map(Box::new), after: Some(Box::new(part.clone())) });
        }
        self.stands_after(&ops)?;
        Ok(ops)
    }

    /// Checks what was put in against the dataset as it would be.
    pub(super) fn stands_after(&self, ops: &[Op]) -> Checked<()> {
        let mut after = self.ds.clone();
        let change = Change { seq: self.ds.seq + 1, at: self.clock.now, who: super::Actor::Westerfall, undoes: None, ops: ops.to_vec() };
        after.apply(&change);
        for op in ops {
            let Op::Put { before, after: Some(part) } = op else { continue };
            match &**part {
                Part::Tracker(tracker) => {
                    check_name(&tracker.name)?;
                    zone(&tracker.zone)?;
                }
                Part::Table(table) => check_table(&after, table)?,
                Part::View(view) => {
                    check_name(&view.name)?;
                    after.table(view.table).ok_or_else(|| Fault::not_found("table"))?;
                    view.query.check(&after, view.table).map_err(|f| Faults(f.0.into_iter().map(|f| f.at("/query")).collect()))?;
                }
                Part::Form(form) => form.check(&after)?,
                Part::Role(role) => {
                    check_name(&role.name)?;
                    role.check(&after)?;
                }
                Part::Automation(automation) => automation.check(&after)?,
            }
            let same_sort = before.as_deref().is_none_or(|b| b.key() == part.key());
            debug_assert!(same_sort, "a part changes into another state of itself");
        }
        let has_steward = |ds: &Dataset| ds.roles().any(|r| r.base == Base::Steward && !r.members.is_empty());
        if has_steward(self.ds) && !has_steward(&after) {
            let message = "A tracker needs at least one steward. Make somebody else steward first.";
            return Err(Fault::new(FaultKind::NotAllowed, message).into());
        }
        Ok(())
    }

    /// Whether the asker may make, change or take away such a part. A part they may not see is not found.
    fn may_shape(&self, part: &Part) -> Result<(), Fault> {
        let refuse =
            |what: &str| Err(Fault::new(FaultKind::NotAllowed, format!("Only the tracker’s steward and builders can change {what}.")));
        match part {
            Part::View(view) => match (view.owner, self.asker) {
                (_, _) if !self.lens.opens(view.table) => Err(Fault::not_found("view")),
                (Some(owner), Asker::Person(me)) if owner == me => Ok(()),
                (Some(_), Asker::Person(_) | Asker::Form(_)) => Err(Fault::not_found("view")),
                (None, _) if !self.lens.builds() => {
                    refuse("the team’s views. Save it as your own view instead; only they can change these")
                }
                (Some(_) | None, _) => Ok(()),
            },
            Part::Table(_) | Part::Form(_) | Part::Automation(_) if !self.lens.builds() => refuse("this"),
            Part::Role(_) | Part::Tracker(_) if !self.lens.is_steward() => {
                Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward can change who may do what."))
            }
            Part::Table(_) | Part::Form(_) | Part::Automation(_) | Part::Role(_) | Part::Tracker(_) => Ok(()),
        }
    }
}

/// Whether a table's fields fit together and its links stand on both sides.
fn check_table(ds: &Dataset, table: &TableDef) -> Result<(), Fault> {
    check_name(&table.name)?;
    let bad = |message: String| Err(Fault::new(FaultKind::BadRule, message));
    if table.field(table.standing).is_none() {
        return bad(format!("“{}” has no field that stands for its records.", table.name));
    }
    for (place, field) in table.fields.iter().enumerate() {
        let at = |f: Fault| f.at(format!("/fields/{place}"));
        check_name(&field.name).map_err(at)?;
        if table.fields[..place].iter().any(|f| f.name.to_lowercase() == field.name.to_lowercase()) {
            return bad(format!("“{}” has two fields called “{}”.", table.name, field.name)).map_err(at);
        }
        let fits = match (&field.preset, &field.kind) {
            (None, _) | (Some(Preset::Now), Kind::Date | Kind::DateTime) => true,
            (Some(Preset::Value(Value::Choice(option))), Kind::Choice { options }) => options.iter().any(|o| o.id == *option),
            (Some(Preset::Value(Value::Number(_))), Kind::Number { .. }) | (Some(Preset::Value(Value::Date(_))), Kind::Date) => true,
            (Some(Preset::Value(Value::Text(_))), Kind::Text { .. } | Kind::LongText) => true,
            (Some(_), _) => false,
        };
        if !fits {
            return bad(format!("“{}” can’t begin with a value of another kind.", field.name)).map_err(at);
        }
        match &field.kind {
            Kind::Link(link) => {
                let other = ds.table(link.to).and_then(|t| t.link(link.back));
                let paired = other.is_some_and(|o| o.to == table.id && o.back == field.id && o.holds != link.holds);
                if !paired {
                    return bad(format!("The link “{}” has no other side.", field.name)).map_err(at);
                }
            }
            Kind::Carried { .. } => {
                if ds.shown_kind(table.id, field.id).is_none() {
                    return bad(format!("“{}” carries a field that is not there, or itself.", field.name)).map_err(at);
                }
            }
            Kind::Choice { options } => {
                for (place, option) in options.iter().enumerate() {
                    check_name(&option.name).map_err(at)?;
                    if options[..place].iter().any(|o| o.id == option.id || o.name.to_lowercase() == option.name.to_lowercase()) {
                        return bad(format!("“{}” has the option “{}” twice.", field.name, option.name)).map_err(at);
                    }
                }
            }
            Kind::Text { .. }
            | Kind::LongText
            | Kind::Number { .. }
            | Kind::Date
            | Kind::DateTime
            | Kind::Person
            | Kind::Email
            | Kind::Phone
            | Kind::Files
            | Kind::Numbering { .. }
            | Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy => {}
        }
    }
    Ok(())
}
