//! A record that is typed cell by cell counts as added once it is complete and left: until then its automations wait.

use super::{Automation, Occasion, Pause, Recipient, Step};
use crate::{
    access::Lens,
    bulk::{Alter, Altered},
    condition::{Check, Condition},
    dataset::Dataset,
    form::Arrival,
    id::{AutomationId, FieldId, RecordId, TableId},
    names::{Name, Names},
    schema::{Kind, TableDef, within_sentence},
    value::list_text,
    wording::Wording,
};
use jiff::{SignedDuration, Timestamp};

/// After so long, whoever began a record has left it, whether or not they said so.
const LEFT_AFTER: SignedDuration = SignedDuration::from_mins(10);

impl Dataset {
    /// The automations that a record of this table sets going by being added.
    pub(crate) fn set_going_by_adding(&self, table: TableId) -> impl Iterator<Item = &Automation> {
        self.automations().filter(move |a| a.on && a.table == table && a.when == Occasion::Added)
    }

    /// What a record still needs before an automation takes it for added: required fields, and those the automation uses.
    pub(crate) fn awaited(&self, automation: &Automation, record: RecordId) -> Vec<FieldId> {
        let Some(home) = self.table(automation.table) else { return Vec::new() };
        let uses = automation.uses_of_record(self, &home.def);
        let wanted = home.def.fields.iter().filter(|f| f.kind.takes_input() && (f.required || uses.contains(&f.id)));
        let empty = |field: FieldId| home.column(field).is_none_or(|c| c.cell(record.row()).is_empty());
        wanted.map(|f| f.id).filter(|f| empty(*f)).collect()
    }

    /// The records that were begun and not left, though nobody has touched them for a while.
    pub fn left_behind(&self, now: Timestamp) -> Vec<(TableId, RecordId)> {
        let quiet = |at: Timestamp| now.duration_since(at) >= LEFT_AFTER;
        let begun = self.begun();
        let ready = |(table, record, arrival): &(TableId, RecordId, &Arrival)| {
            let touched = self.table(*table).and_then(|t| t.meta(*record)).filter(|m| !m.gone).is_some_and(|m| quiet(m.changed_at));
            touched && arrival.awaits.iter().any(|id| self.automation(*id).is_none_or(|a| self.awaited(a, *record).is_empty()))
        };
        begun.filter(ready).map(|(table, record, _)| (table, record)).collect()
    }

    /// The records for which automations wait.
    pub(crate) fn begun(&self) -> impl Iterator<Item = (TableId, RecordId, &Arrival)> {
        self.tables().flat_map(|t| t.arrivals().map(|(record, arrival)| (t.def.id, record, arrival))).filter(|(.., a)| !a.awaits.is_empty())
    }

    /// What an arrival says once its record was left: automations that have all they need wait no more.
    pub(crate) fn left(&self, record: RecordId, arrival: &Arrival) -> Arrival {
        let waits = |id: &AutomationId| self.automation(*id).is_some_and(|a| a.on && !self.awaited(a, record).is_empty());
        Arrival { awaits: arrival.awaits.iter().copied().filter(waits).collect(), ..arrival.clone() }
    }
}

impl Automation {
    /// The fields of the record itself that it needs something in. A test for emptiness needs nothing.
    fn uses_of_record(&self, ds: &Dataset, home: &TableDef) -> Vec<FieldId> {
        let mut used: Vec<FieldId> = Vec::new();
        let tests = self.condition.tests();
        let tested = tests.iter().filter(|t| t.check != Check::Empty).filter_map(|t| t.path.first().copied());
        used.extend(tested);
        super::every(&self.steps, home.id, "", &mut |step, table, _| {
            // What is asked of other records is not filled in here.
            if table == home.id {
                used.extend(step.uses(ds));
            }
        });
        // What is carried comes along a link of the record; what is computed, from the fields that its formula names.
        let ground = |field: &FieldId| match home.field(*field).map(|f| &f.kind) {
            Some(Kind::Carried { links, .. }) => links.first().copied().into_iter().collect(),
            Some(kind) if kind.is_computed() => {
                let mut own = Vec::new();
                home.field(*field).into_iter().for_each(|f| {
                    f.names(&mut |name, _| {
                        if let Name::Field(id) = name {
                            own.push(id);
                        }
                    });
                });
                own
            }
            _ => vec![*field],
        };
        used.iter().flat_map(ground).filter(|f| home.field(*f).is_some()).collect()
    }
}

impl Step {
    /// The fields of the record itself that it reads.
    fn uses(&self, ds: &Dataset) -> Vec<FieldId> {
        let tested = |condition: &Condition| -> Vec<FieldId> {
            condition.tests().iter().filter(|t| t.check != Check::Empty).filter_map(|t| t.path.first().copied()).collect()
        };
        let values = |text: &Wording| -> Vec<FieldId> {
            text.0.iter().filter_map(|piece| piece.path().and_then(|path| path.first().copied())).collect()
        };
        match self {
            Step::Mail { to, subject, body, text, .. } => {
                let stored = text.and_then(|id| ds.stored_text(id));
                let (subject, body) = stored.map_or((subject, body), |stored| (&stored.subject, &stored.body));
                let to = if let Recipient::Field(path) = to { path.first().copied() } else { None };
                to.into_iter().chain(values(subject)).chain(values(body)).collect()
            }
            Step::Say { text } => values(text),
            Step::Set { along, alter } => {
                let own = along.is_empty();
                along.first().copied().into_iter().chain(alter.iter().flat_map(|one| one.reads(own))).collect()
            }
            Step::Add { alter, lines, .. } => {
                alter.iter().chain(lines.iter().flat_map(|line| &line.alter)).flat_map(|one| one.reads(true)).collect()
            }
            Step::If { condition, .. } => tested(condition),
            Step::Each { same, .. } => same.iter().map(|one| one.ours).collect(),
            Step::Wait { pause: Pause::Field(field), .. } => vec![*field],
            Step::Call { calls, .. } => {
                let texts = calls.sends.iter().map(|one| &one.value).chain([&calls.address]);
                texts.flat_map(values).collect()
            }
            // What it waits for is filled in later.
            Step::Wait { .. } | Step::Start { .. } | Step::Stop => Vec::new(),
        }
    }
}

impl Altered {
    /// The fields of the record itself that it reads; `own`: whether its formula is of that record.
    fn reads(&self, own: bool) -> Vec<FieldId> {
        match &self.to {
            Alter::Along(path) => path.first().copied().into_iter().collect(),
            Alter::Formula(formula) if own => formula.fields().into_iter().collect(),
            _ => Vec::new(),
        }
    }
}

impl Lens<'_> {
    /// What automations wait for before they take a record for added, in sentences.
    pub fn awaits(&self, table: TableId, record: RecordId) -> Vec<String> {
        let Some(arrival) = self.ds.arrival(table, record).filter(|_| self.sees(table, record)) else { return Vec::new() };
        let Some(home) = self.ds.table(table) else { return Vec::new() };
        let sentence = |automation: &Automation| {
            let missing = self.ds.awaited(automation, record);
            let open = missing.iter().filter(|f| self.reads(table, **f)).filter_map(|f| home.def.field(*f));
            let names: Vec<String> = open.map(|f| within_sentence(&f.name)).collect();
            let until = match (missing.is_empty(), names.is_empty()) {
                (true, _) => "this record is left".to_owned(),
                (false, true) => "it is filled in".to_owned(),
                (false, false) => format!("{} {} filled in", list_text(&names, "and"), if names.len() == 1 { "is" } else { "are" }),
            };
            format!("“{}” waits until {until}: then it counts as added.", automation.name)
        };
        arrival.awaits.iter().filter_map(|id| self.ds.automation(*id)).filter(|a| a.on).map(sentence).collect()
    }

    /// Whether automations still wait for a record to be left.
    pub fn is_begun(&self, table: TableId, record: RecordId) -> bool {
        self.ds.arrival(table, record).is_some_and(|a| !a.awaits.is_empty())
    }
}
