using System.Data;
using System.Globalization;
using Dapper;

namespace Weir.Store;

/// <summary>How times stand in the store: as text in UTC (ISO 8601), all of one length, so that the order of the texts is that of the times.</summary>
internal sealed class StoredTimes : SqlMapper.TypeHandler<DateTimeOffset>
{
    /// <summary>Has every question read and write them so.</summary>
    public static void Register()
    {
        // What is known of the type from elsewhere would go first.
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset));
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset?));
        SqlMapper.AddTypeHandler(new StoredTimes());
    }

    /// <summary>A time as it stands in the store.</summary>
    public static string Write(DateTimeOffset at) => at.UtcDateTime.ToString("O", CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    public override void SetValue(IDbDataParameter parameter, DateTimeOffset value) => parameter.Value = Write(value);

    /// <inheritdoc/>
    public override DateTimeOffset Parse(object value) => DateTimeOffset.Parse((string)value, CultureInfo.InvariantCulture);
}
