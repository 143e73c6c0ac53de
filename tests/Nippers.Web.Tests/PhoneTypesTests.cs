using System.Reflection;
using System.Text.Json.Serialization;
using System.Xml.Linq;
using Nippers.App.Phones;
using Nippers.Tests;
using Nippers.Views.Phones;

namespace Nippers.Web.Tests;

/// <summary>
/// What a phone reads from JSON is named to the trimmer, each type of it: one that is not named reads well on a server, and breaks a phone
/// on the first morning that has one.
/// </summary>
public sealed class PhoneTypesTests
{
    private static readonly string[] Kept =
    [
        .. XDocument
            .Load(Path.Combine(PseudoLanguage.Root, "src/Nippers.Phone/Kept.xml"))
            .Descendants("type")
            .Select(x => (string)x.Attribute("fullname")!),
    ];

    private static bool IsKept(Type type) =>
        Kept.Any(x => x.EndsWith(".*", StringComparison.Ordinal) ? type.Namespace == x[..^2] : type.FullName!.Replace('+', '/') == x);

    private static bool IsRow(Type type) =>
        type.Namespace?.StartsWith("Nippers.Data.", StringComparison.Ordinal) == true && !type.IsValueType;

    private static IEnumerable<Type> Reached()
    {
        var (seen, waits) = (
            new HashSet<Type>(),
            new Queue<Type>([typeof(PhoneRequest), typeof(PhoneReply), typeof(PhoneKit), typeof(PhoneEntry)])
        );
        while (waits.TryDequeue(out var type))
        {
            foreach (var inside in type.GetGenericArguments().Append(type.GetElementType()).OfType<Type>())
            {
                if (seen.Add(inside))
                    waits.Enqueue(inside);
            }

            if (type.Namespace?.StartsWith("Nippers.", StringComparison.Ordinal) != true || type.IsEnum)
                continue;
            yield return type;
            var read = type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(x => x.GetCustomAttribute<JsonIgnoreAttribute>() is null && x.CanWrite)
                .Select(x => x.PropertyType)
                // From one row to another leads a way of the database, which is never sent.
                .Where(x => !(IsRow(type) && IsRow(x)))
                .Concat(type.GetCustomAttributes<JsonDerivedTypeAttribute>().Select(x => x.DerivedType));
            foreach (var next in read)
            {
                if (seen.Add(next))
                    waits.Enqueue(next);
            }
        }
    }

    [Fact]
    public void Every_type_that_a_phone_reads_is_kept_by_its_trimmer()
    {
        var reached = Reached().ToList();
        Assert.Contains(typeof(KitParking), reached);
        Assert.Equal([], reached.Where(x => x != typeof(PhoneKit) && !IsKept(x)).Select(x => x.FullName));
    }
}
