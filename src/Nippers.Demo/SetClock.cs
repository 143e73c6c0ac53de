namespace Nippers.Demo;

/// <summary>A clock set to an instant that then runs on; timers run by the system's.</summary>
public sealed class SetClock(DateTimeOffset start) : TimeProvider
{
    private readonly TimeSpan _shift = start - DateTimeOffset.UtcNow;

    public override DateTimeOffset GetUtcNow() => System.GetUtcNow() + _shift;
}
