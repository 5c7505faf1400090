//! JSONB columns as the types they hold, read and written without a detour.

use diesel::{
    deserialize::{self, FromSql, FromSqlRow},
    expression::AsExpression,
    pg::{Pg, PgValue},
    serialize::{self, IsNull, Output, ToSql},
    sql_types::Jsonb,
};
use serde::{Serialize, de::DeserializeOwned};
use std::io::Write;

/// A value kept as JSONB.
#[derive(Clone, Debug, AsExpression, FromSqlRow)]
#[diesel(sql_type = Jsonb)]
pub(crate) struct Json<T: std::fmt::Debug>(pub(crate) T);

impl<T: DeserializeOwned + std::fmt::Debug> FromSql<Jsonb, Pg> for Json<T> {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        match value.as_bytes() {
            // The first byte is the version of the binary form.
            [1, json @ ..] => Ok(Self(serde_json::from_slice(json)?)),
            _ => Err("unknown JSONB version".into()),
        }
    }
}

impl<T: Serialize + std::fmt::Debug> ToSql<Jsonb, Pg> for Json<T> {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Pg>) -> serialize::Result {
        out.write_all(&[1])?;
        serde_json::to_writer(out, &self.0)?;
        Ok(IsNull::No)
    }
}
